import { holdAt, holdOf, intervalAt, type RecordedInterval } from '@loka/core/series';
import { Injectable, Logger, OnModuleInit } from '@nestjs/common';
import { DeviceBook } from '../book/deviceBook.js';
import { Newest } from '../database/newest.js';
import { DerivedPoints } from './derivedPoints.js';

/** At which interval each point was recorded when, kept in memory. */
@Injectable()
export class IntervalBook implements OnModuleInit {
  private readonly newest = new Newest();
  private readonly log = new Logger('intervals');
  private byPoint = new Map<number, RecordedInterval[]>();

  constructor(
    private readonly book: DeviceBook,
    private readonly derived: DerivedPoints,
  ) {}

  async onModuleInit(): Promise<void> {
    await this.reload();
    this.book.reloaded.subscribe(
      () => void this.reload().catch((error: Error) => this.log.error(error.message)),
    );
  }

  reload(): Promise<void> {
    return this.newest.take(
      () => this.book.intervals.find({ order: { validFrom: 'ASC' } }),
      (rows) => {
        const byPoint = new Map<number, RecordedInterval[]>();
        for (const row of rows) byPoint.set(row.pointId, [...(byPoint.get(row.pointId) ?? []), row]);
        this.byPoint = byPoint;
      },
    );
  }

  /** When a point was next recorded at another interval than at t; Infinity when it was not. */
  changeAfter(pointId: number, t: number): number {
    if (this.derived.isDerived(pointId)) return this.derived.changeAfter(pointId, t);
    return this.byPoint.get(pointId)?.find((entry) => entry.validFrom > t)?.validFrom ?? Infinity;
  }

  /** The interval at which a point was recorded at t, ms. */
  intervalAt(pointId: number, t: number): number {
    if (this.derived.isDerived(pointId)) return this.derived.intervalAt(pointId, t);
    return intervalAt(this.byPoint.get(pointId) ?? [], t);
  }

  /** How many readings a point should have in [from, to), by the intervals at which it was recorded. */
  expected(pointId: number, from: number, to: number): number {
    let readings = 0;
    for (let t = from; t < to;) {
      const next = Math.min(to, this.changeAfter(pointId, t));
      readings += (next - t) / this.intervalAt(pointId, t);
      t = next;
    }
    return readings;
  }

  /** The longest interval at which a point was recorded in [from, to), ms. */
  slowest(pointId: number, from: number, to: number): number {
    let longest = this.intervalAt(pointId, from);
    for (let t = this.changeAfter(pointId, from); t < to; t = this.changeAfter(pointId, t))
      longest = Math.max(longest, this.intervalAt(pointId, t));
    return longest;
  }

  /** The longest that a sample of the point has ever spoken, ms. */
  longestHold(pointId: number): number {
    if (this.derived.isDerived(pointId)) return holdOf(this.derived.intervalAt(pointId, Date.now()));
    return holdOf(Math.max(1000, ...(this.byPoint.get(pointId) ?? []).map((entry) => entry.intervalMs)));
  }

  /** How long a sample of the point speaks, as a function of when it was taken. */
  hold(pointId: number): (t: number) => number {
    if (this.derived.isDerived(pointId)) return (t) => holdOf(this.derived.intervalAt(pointId, t));
    const intervals = this.byPoint.get(pointId) ?? [];
    return (t) => holdAt(intervals, t);
  }
}
