import { holdAt, holdOf, type RecordedInterval } from '@loka/core/series';
import { Injectable, Logger, OnModuleInit } from '@nestjs/common';
import { DeviceBook } from '../devices/deviceBook.js';
import { Newest } from '../database/newest.js';

/** At which interval each point was recorded when, kept in memory. */
@Injectable()
export class IntervalBook implements OnModuleInit {
  private readonly newest = new Newest();
  private readonly log = new Logger('intervals');
  private byPoint = new Map<number, RecordedInterval[]>();

  constructor(private readonly book: DeviceBook) {}

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
    return this.byPoint.get(pointId)?.find((entry) => entry.validFrom > t)?.validFrom ?? Infinity;
  }

  /** The interval at which a point was recorded at t, ms. */
  intervalAt(pointId: number, t: number): number {
    return this.hold(pointId)(t) / holdOf(1);
  }

  /** How long a sample of the point speaks, as a function of when it was taken. */
  hold(pointId: number): (t: number) => number {
    const intervals = this.byPoint.get(pointId) ?? [];
    return (t) => holdAt(intervals, t);
  }
}
