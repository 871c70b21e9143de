import { MINUTE, rollUp, spanStart, type Rollup, type Sample } from '@loka/core/series';
import { Injectable, Logger, OnApplicationBootstrap, OnModuleDestroy } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { bulkLoad } from '../database/bulkLoad.js';
import { CorrectionBook } from '../calibration/correctionBook.js';
import { IntervalBook } from './intervalBook.js';
import { SampleStore, type StoredSample } from './sampleStore.js';

const EVERY = 2000;
const ROWS_A_STATEMENT = 1000;
const COLUMNS = ['pointId', 't', 'min', 'max', 'mean', 'count', 'covered', 'last'];

/** A rollup of a point. */
export interface PointRollup extends Rollup {
  pointId: number;
}

/**
 * Keeps the one-minute rollups true to the samples: whatever minute a stored sample touches is worked out anew,
 * with the corrections in force. What was not yet rolled up when the server stopped is caught up at the start.
 */
@Injectable()
export class RollupKeeper implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly log = new Logger('rollups');
  private readonly dirty = new Map<number, Set<number>>();
  private timer: NodeJS.Timeout | null = null;
  private running: Promise<void> = Promise.resolve();

  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly store: SampleStore,
    private readonly corrections: CorrectionBook,
    private readonly intervals: IntervalBook,
  ) {
    this.store.committed.subscribe((batch) => this.touch(batch));
  }

  async onApplicationBootstrap(): Promise<void> {
    const [{ newest }] = await this.db.query('SELECT MAX(t) AS newest FROM rollups_1m');
    for (const { pointId, minute } of await this.store.minutesSince((newest ?? 0) - 2 * MINUTE))
      this.mark(minute, pointId);
    this.timer = setInterval(() => void this.work(), EVERY);
  }

  async onModuleDestroy(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    await this.running;
  }

  /** Rolls up everything that is waiting. */
  work(): Promise<void> {
    this.running = this.running.then(() => this.workOff());
    return this.running;
  }

  /** Works out the rollups of a point in [start, end) anew. */
  async rebuild(pointId: number, start: number, end: number): Promise<void> {
    const samples = this.corrected(pointId, await this.store.read(pointId, start, end));
    await this.write(this.minutes(pointId, samples, start, end));
  }

  /** As {@link rebuild}, for a point whose samples have been replaced: minutes that have none any more are dropped. */
  async replace(pointId: number, start: number, end: number): Promise<void> {
    await this.db.query('DELETE FROM rollups_1m WHERE pointId = ? AND t >= ? AND t < ?', [
      pointId,
      start,
      end,
    ]);
    await this.rebuild(pointId, start, end);
  }

  /** Rolls up history that is brought in for a point that has none yet. */
  load(pointId: number, samples: Sample[]): Promise<void> {
    const first = samples[0];
    const last = samples.at(-1);
    if (!first || !last) return Promise.resolve();
    const rollups = this.minutes(pointId, this.corrected(pointId, samples), first.t, last.t + MINUTE);
    const lines = function* () {
      for (const r of rollups)
        yield `${pointId}\t${r.t}\t${r.min}\t${r.max}\t${r.mean}\t${r.count}\t${Math.round(r.covered)}\t${r.last}`;
    };
    return bulkLoad(this.db, 'rollups_1m', COLUMNS, lines());
  }

  /** The rollups of every minute in [start, end) that has one. */
  private minutes(pointId: number, samples: Sample[], start: number, end: number): PointRollup[] {
    const hold = this.intervals.hold(pointId);
    const rollups: PointRollup[] = [];
    let first = 0;
    for (let minute = spanStart(start, MINUTE); minute < end; minute += MINUTE) {
      // The sample before the minute may reach into it, so the window keeps one back.
      while (first + 1 < samples.length && (samples[first + 1] as Sample).t <= minute) first++;
      let last = first;
      while (last < samples.length && (samples[last] as Sample).t < minute + MINUTE) last++;
      const rollup = rollUp(samples.slice(first, last + 1), minute, minute + MINUTE, hold);
      if (rollup) rollups.push({ pointId, ...rollup });
    }
    return rollups;
  }

  private touch(batch: StoredSample[]): void {
    for (const { pointId, t } of batch) {
      const hold = this.intervals.hold(pointId)(t);
      for (let minute = spanStart(t, MINUTE); minute <= t + hold; minute += MINUTE)
        this.mark(minute, pointId);
    }
  }

  private mark(minute: number, pointId: number): void {
    const points = this.dirty.get(minute);
    if (points) points.add(pointId);
    else this.dirty.set(minute, new Set([pointId]));
  }

  private async workOff(): Promise<void> {
    for (const [minute, points] of [...this.dirty]) {
      this.dirty.delete(minute);
      try {
        await this.rollMinute(minute, [...points]);
      } catch (error) {
        for (const point of points) this.mark(minute, point);
        this.log.warn(`rollups wait: ${(error as Error).message}`);
        return;
      }
    }
  }

  private async rollMinute(minute: number, pointIds: number[]): Promise<void> {
    const reach = Math.max(...pointIds.map((id) => this.intervals.hold(id)(minute)));
    const samples = await this.store.readMany(pointIds, minute - reach, minute + MINUTE);
    const rollups: PointRollup[] = [];
    for (const [pointId, list] of samples) {
      const rollup = rollUp(
        this.corrected(pointId, list),
        minute,
        minute + MINUTE,
        this.intervals.hold(pointId),
      );
      if (rollup) rollups.push({ pointId, ...rollup });
    }
    await this.write(rollups);
  }

  private corrected(pointId: number, samples: Sample[]): Sample[] {
    return samples.map(({ t, v, q }) => ({
      t,
      v: v === null ? null : this.corrections.correct(pointId, t, v),
      q,
    }));
  }

  private async write(rollups: PointRollup[]): Promise<void> {
    for (let i = 0; i < rollups.length; i += ROWS_A_STATEMENT)
      await this.db.query(`REPLACE INTO rollups_1m (${COLUMNS.join(', ')}) VALUES ?`, [
        rollups
          .slice(i, i + ROWS_A_STATEMENT)
          .map((r) => [r.pointId, r.t, r.min, r.max, r.mean, r.count, Math.round(r.covered), r.last]),
      ]);
  }
}
