import { MINUTE, spanStart } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, type EntityManager } from 'typeorm';
import { DerivedPoints } from './derivedPoints.js';
import { IntervalBook } from './intervalBook.js';
import { chunksOf } from './journal.js';

/** A minute of a point that has to be rolled up; `gen` grows with each mark, so that one that came meanwhile stays. */
export interface Due {
  pointId: number;
  minute: number;
  gen: number;
}

const ROWS_A_STATEMENT = 2000;
const IDS_A_STATEMENT = 500;

/** Points with the minutes that are due for them. */
export class Minutes {
  private readonly byPoint = new Map<number, Set<number>>();
  size = 0;

  add(pointId: number, minute: number): void {
    let minutes = this.byPoint.get(pointId);
    if (!minutes) this.byPoint.set(pointId, (minutes = new Set()));
    const before = minutes.size;
    minutes.add(minute);
    this.size += minutes.size - before;
  }

  has(pointId: number, minute: number): boolean {
    return this.byPoint.get(pointId)?.has(minute) ?? false;
  }

  addAll(others: Iterable<[number, number]>): void {
    for (const [pointId, minute] of others) this.add(pointId, minute);
  }

  *[Symbol.iterator](): IterableIterator<[pointId: number, minute: number]> {
    for (const [pointId, minutes] of this.byPoint) for (const minute of minutes) yield [pointId, minute];
  }
}

/**
 * What is to be rolled up, in the database: written in the transaction that stores the samples, so that a stop at any
 * moment leaves nothing uncounted. Marks that are known to stand there already are not written again.
 */
@Injectable()
export class DueMarks {
  private known = new Minutes();

  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly intervals: IntervalBook,
    private readonly derived: DerivedPoints,
  ) {}

  /**
   * The minutes that samples touch: their own, and those into which they hold; for a bad one those into which the one
   * before it could have held. The same of the points that are computed from them.
   */
  touchedBy(samples: readonly { pointId: number; t: number }[]): Minutes {
    const touched = new Minutes();
    const last = new Map<number, { minute: number; end: number; hold: (t: number) => number }>();
    for (const { pointId, t } of samples) {
      const minute = spanStart(t, MINUTE);
      let known = last.get(pointId);
      if (!known) last.set(pointId, (known = { minute: NaN, end: NaN, hold: this.intervals.hold(pointId) }));
      const end = t + known.hold(t);
      // Polled every second: nearly every sample falls into the minutes of the one before.
      if (known.minute === minute && end <= known.end) continue;
      known.minute = minute;
      known.end = spanStart(end - 1, MINUTE) + MINUTE;
      for (const id of [pointId, ...this.derived.dependents(pointId)])
        for (let m = minute; m < end; m += MINUTE) touched.add(id, m);
    }
    return touched;
  }

  /** Those of some minutes that are not known to be marked. */
  unknown(minutes: Iterable<[number, number]>): Minutes {
    const fresh = new Minutes();
    for (const [pointId, minute] of minutes) if (!this.known.has(pointId, minute)) fresh.add(pointId, minute);
    return fresh;
  }

  /** Marks minutes. When that has been committed, {@link remember} keeps them from being marked again for nothing. */
  async mark(tables: Pick<EntityManager, 'query'>, minutes: Iterable<[number, number]>): Promise<void> {
    for (const rows of chunksOf([...minutes], ROWS_A_STATEMENT))
      await tables.query(
        'INSERT INTO rollup_due (pointId, minute) VALUES ? ON DUPLICATE KEY UPDATE gen = gen + 1',
        [rows],
      );
  }

  remember(minutes: Minutes): void {
    this.known.addAll(minutes);
  }

  /** Before marks are read to be worked off: what comes from now on is marked again. */
  forget(): void {
    this.known = new Minutes();
  }

  /** Marks of minutes before an instant, the latest first: what is new on the screen does not wait for what is old. */
  before(t: number, limit: number): Promise<Due[]> {
    return this.db.query(
      'SELECT pointId, minute, gen FROM rollup_due WHERE minute < ? ORDER BY minute DESC LIMIT ?',
      [t, limit],
    );
  }

  /** Marks of points within a period, at most `limit` of them. */
  async within(pointIds: readonly number[], from: number, to: number, limit: number): Promise<Due[]> {
    const found: Due[] = [];
    for (const ids of chunksOf(pointIds, IDS_A_STATEMENT))
      found.push(
        ...((await this.db.query(
          'SELECT pointId, minute, gen FROM rollup_due WHERE pointId IN (?) AND minute >= ? AND minute < ? LIMIT ?',
          [ids, spanStart(from, MINUTE), to, limit],
        )) as Due[]),
      );
    return found;
  }

  /** Those of some points of which anything is due within a period. */
  async pointsWithin(pointIds: readonly number[], from: number, to: number): Promise<Set<number>> {
    const found = new Set<number>();
    for (const ids of chunksOf(pointIds, IDS_A_STATEMENT))
      for (const { pointId } of (await this.db.query(
        'SELECT DISTINCT pointId FROM rollup_due WHERE pointId IN (?) AND minute >= ? AND minute < ?',
        [ids, from, to],
      )) as Pick<Due, 'pointId'>[])
        found.add(pointId);
    return found;
  }

  /** The first minute that is due for any of some points; null where nothing is. */
  async firstOf(pointIds: readonly number[]): Promise<number | null> {
    let first: number | null = null;
    for (const ids of chunksOf(pointIds, IDS_A_STATEMENT)) {
      const [{ minute }] = (await this.db.query(
        'SELECT MIN(minute) AS minute FROM rollup_due WHERE pointId IN (?)',
        [ids],
      )) as [{ minute: number | null }];
      if (minute !== null) first = Math.min(first ?? Infinity, Number(minute));
    }
    return first;
  }

  /** Takes marks away, unless they have been set again since they were read. */
  async done(tables: Pick<EntityManager, 'query'>, due: readonly Due[]): Promise<void> {
    for (const part of chunksOf(due, IDS_A_STATEMENT))
      // Left to itself the database takes the key of the minutes: ten times as long for many minutes of one point.
      await tables.query(
        'DELETE rollup_due FROM rollup_due FORCE INDEX (PRIMARY) WHERE (pointId, minute, gen) IN (?)',
        [part.map((d) => [d.pointId, d.minute, d.gen])],
      );
  }

  /** How many marks are waiting, up to a limit. */
  async waiting(limit = 100_000): Promise<number> {
    const [{ n }] = await this.db.query(
      'SELECT COUNT(*) AS n FROM (SELECT 1 FROM rollup_due LIMIT ?) AS some',
      [limit],
    );
    return Number(n);
  }
}
