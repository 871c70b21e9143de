import type { CommentInput } from '@loka/contract/comments';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { And, LessThan, MoreThanOrEqual, Repository } from 'typeorm';
import { InstallationBook } from '../book/installationBook.js';
import { changeVersioned } from '../book/versioned.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { invalidField, notFound } from '../problem/errors.js';
import { CommentEntity } from './comment.entity.js';

/** A minute ahead may be the clock of a phone. */
const AHEAD = 60_000;
const LISTED = 500;

/** What people say of instants at places. */
@Injectable()
export class CommentsService {
  constructor(
    @InjectRepository(CommentEntity) private readonly rows: Repository<CommentEntity>,
    private readonly tree: InstallationBook,
    private readonly changes: ChangeFeed,
  ) {}

  /** Those of a place within [from, to), in order of their instants. */
  within(nodeId: number, from: number, to: number): Promise<CommentEntity[]> {
    return this.rows.find({
      where: { nodeId, t: And(MoreThanOrEqual(from), LessThan(to)) },
      order: { t: 'ASC', id: 'ASC' },
      take: LISTED,
    });
  }

  async add(input: CommentInput, who: string): Promise<CommentEntity> {
    this.check(input);
    const { nodeId, t, text } = input;
    const row = await this.rows.save({ nodeId, t, text, who, writtenAt: Date.now(), version: 1 });
    this.changes.say('comments');
    return row;
  }

  async change(id: number, input: CommentInput): Promise<CommentEntity> {
    this.check(input);
    const row = await this.rows.manager.transaction((tables) =>
      changeVersioned(tables, CommentEntity, { id }, input, { what: 'comment' }),
    );
    this.changes.say('comments');
    return row;
  }

  async remove(id: number): Promise<void> {
    const { affected } = await this.rows.delete(id);
    if (!affected) throw notFound('comment', id);
    this.changes.say('comments');
  }

  private check({ nodeId, t, text }: CommentInput): void {
    if (!this.tree.node(nodeId)) throw notFound('place in the installation', nodeId);
    if (t > Date.now() + AHEAD) throw invalidField('t', 'That instant has not come yet.');
    if (text.trim() === '') throw invalidField('text', 'Write 1 to 400 letters.');
  }
}
