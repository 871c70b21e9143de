import type { Picture } from '@loka/contract/pictures';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { createHash } from 'node:crypto';
import { Repository } from 'typeorm';
import { DashboardsService } from '../dashboards/dashboards.service.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { PlansService } from '../plans/plans.service.js';
import { invalidField, notFound, Problem } from '../problem/errors.js';
import { PictureEntity } from './picture.entity.js';
import { takeIn } from './takeIn.js';

const MOST = 200;

/** Uploaded pictures: plans of a building as somebody else has drawn it, photographs, signs. */
@Injectable()
export class PicturesService {
  constructor(
    @InjectRepository(PictureEntity) private readonly rows: Repository<PictureEntity>,
    private readonly dashboards: DashboardsService,
    private readonly plans: PlansService,
    private readonly changes: ChangeFeed,
  ) {}

  /** All, without their contents, by name. */
  list(): Promise<Picture[]> {
    return this.rows.find({ order: { name: 'ASC', id: 'ASC' } });
  }

  /** One with its content. @throws Problem not-found */
  async content(id: number): Promise<PictureEntity> {
    const row = await this.rows
      .createQueryBuilder('picture')
      .addSelect('picture.content')
      .where({ id })
      .getOne();
    if (!row) throw notFound('picture', id);
    return row;
  }

  /** Keeps one; the same content again is the one that is there. @throws Problem invalid */
  async add(name: string, file: Buffer, who: string): Promise<Picture> {
    const taken = await takeIn(file);
    const hash = createHash('sha256').update(taken.content).digest('hex');
    const same = await this.rows.findOneBy({ hash });
    if (same) return same;
    if ((await this.rows.count()) >= MOST)
      throw invalidField('file', `There are ${MOST} pictures already; take one off first.`);
    const bytes = taken.content.length;
    try {
      const { content: _, ...row } = await this.rows.save({
        ...taken,
        name: name.trim(),
        bytes,
        hash,
        addedAt: Date.now(),
        who,
      });
      this.changes.say('pictures');
      return row;
    } catch (error) {
      // Sent twice at once.
      const now = await this.rows.findOneBy({ hash });
      if (now) return now;
      throw error;
    }
  }

  /** @throws Problem not-found, in-use */
  async remove(id: number): Promise<void> {
    const users = await this.usersOf(id);
    if (users.length > 0)
      throw new Problem('in-use', `It is shown by ${users.join(', ')}. Remove it there first.`);
    const { affected } = await this.rows.delete(id);
    if (!affected) throw notFound('picture', id);
    this.changes.say('pictures');
  }

  /** The dashboards and plans that show it. */
  private async usersOf(id: number): Promise<string[]> {
    const plans = (await this.plans.list()).filter((p) => p.content.picture?.id === id);
    const dashboards = (await this.dashboards.list()).filter((d) =>
      d.content.elements.some((e) => e.shows.some((s) => s.of === 'picture' && s.id === id)),
    );
    return [...plans, ...dashboards].map(({ name }) => `“${name}”`);
  }
}
