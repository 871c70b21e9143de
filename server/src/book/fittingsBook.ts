import type { Fitting, FittingKind } from '@loka/contract/fittings';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { And, In, LessThanOrEqual, MoreThan, Repository } from 'typeorm';
import { ChangeFeed } from '../live/changeFeed.js';
import { FittingEntity } from './fitting.entity.js';

const LISTED = 50;
const LONGEST = 400;
/** After these a reading says something else of the same current. */
const CHANGES: FittingKind[] = ['transducer', 'setting', 'rewired'];

/** The history of what was fitted when, place by place. */
@Injectable()
export class FittingsBook {
  constructor(
    @InjectRepository(FittingEntity) private readonly rows: Repository<FittingEntity>,
    private readonly changes: ChangeFeed,
  ) {}

  /** Newest first. */
  of(nodeId: number): Promise<Fitting[]> {
    return this.rows.find({ where: { nodeId }, order: { at: 'DESC', id: 'DESC' }, take: LISTED });
  }

  /** Records what happened at places. @param at from when on it was so */
  async add(
    nodeIds: Iterable<number>,
    kind: FittingKind,
    says: string,
    who: string,
    at = Date.now(),
  ): Promise<void> {
    const rows = [...new Set(nodeIds)].map((nodeId) => ({
      nodeId,
      at,
      enteredAt: Date.now(),
      who,
      kind,
      says: says.length > LONGEST ? `${says.slice(0, LONGEST - 1)}…` : says,
    }));
    if (rows.length === 0) return;
    await this.rows.insert(rows);
    this.changes.say('fittings');
  }

  /** What was entered together with a history had been fitted when that begins. */
  async fittedSince(at: number): Promise<void> {
    await this.rows.update({ kind: 'device', at: MoreThan(at) }, { at });
  }

  /** The last change of wiring, transducer or setting at a place after one instant and up to another; null without one. */
  lastChange(nodeId: number, after: number, until: number): Promise<Fitting | null> {
    return this.rows.findOne({
      where: { nodeId, kind: In(CHANGES), at: And(MoreThan(after), LessThanOrEqual(until)) },
      order: { at: 'DESC', id: 'DESC' },
    });
  }
}
