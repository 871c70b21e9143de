import { MINUTE, spanStart } from '@loka/core/series';
import { Injectable, OnApplicationBootstrap } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Subject } from 'rxjs';
import { In, Repository } from 'typeorm';
import { DeviceBook } from '../devices/deviceBook.js';
import { JobsService } from '../jobs/jobs.service.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { RollupKeeper } from '../series/rollupKeeper.js';
import { SampleStore } from '../series/sampleStore.js';
import { RebuildEntity } from './rebuild.entity.js';

const CHUNK = 6 * 60 * MINUTE;

/**
 * Works the rollups of corrected points out anew, as a job with progress. What is to be done lies in the database
 * before it begins, so that a stop in between is made up for at the next start.
 */
@Injectable()
export class RebuildsService implements OnApplicationBootstrap {
  /** Points whose past has been worked out anew, and over which span. */
  readonly rebuilt = new Subject<{ pointId: number; start: number; end: number }[]>();
  private running: Promise<void> = Promise.resolve();

  constructor(
    @InjectRepository(RebuildEntity) readonly rows: Repository<RebuildEntity>,
    private readonly jobs: JobsService,
    private readonly keeper: RollupKeeper,
    private readonly store: SampleStore,
    private readonly book: DeviceBook,
    private readonly changes: ChangeFeed,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    const left = await this.rows.find();
    if (left.length > 0) void this.run('Readings brought up to date after the last stop', left);
  }

  /** The rebuild that a correction from `validFrom` on calls for; null when the point has no samples since. */
  async plan(
    pointId: number,
    calibrationId: number,
    validFrom: number,
  ): Promise<Omit<RebuildEntity, 'id'> | null> {
    const extent = await this.store.extent(pointId);
    if (!extent || extent.last < validFrom) return null;
    const start = spanStart(Math.max(validFrom, extent.first), MINUTE);
    return { pointId, calibrationId, start, end: extent.last + MINUTE, done: start };
  }

  /**
   * Works rebuilds off, one job after the other: two at a time over the same minutes could leave what the earlier
   * one has worked out with corrections that hold no longer.
   * @param onCancel what has to happen when somebody stops it halfway
   */
  run(title: string, rebuilds: RebuildEntity[], onCancel?: () => Promise<void>): Promise<void> {
    this.running = this.running.then(() => this.runOne(title, rebuilds, onCancel));
    return this.running;
  }

  private runOne(title: string, rebuilds: RebuildEntity[], onCancel?: () => Promise<void>): Promise<void> {
    const whole = rebuilds.reduce((sum, r) => sum + r.end - r.done, 0);
    let covered = 0;
    return this.jobs.run(
      title,
      async (job) => {
        for (const rebuild of rebuilds) {
          for (let from = rebuild.done; from < rebuild.end; from += CHUNK) {
            if (job.cancelled) return 'Stopped; the correction has been taken back.';
            const to = Math.min(from + CHUNK, rebuild.end);
            await this.keeper.rebuild(rebuild.pointId, from, to);
            await this.rows.update(rebuild.id, { done: to });
            covered += to - from;
            job.progress(whole > 0 ? covered / whole : 1);
          }
        }
        await this.rows.delete({ id: In(rebuilds.map((r) => r.id)) });
        this.changes.say('history');
        this.rebuilt.next(rebuilds.map(({ pointId, start, end }) => ({ pointId, start, end })));
        return rebuilds.map((r) => this.book.point(r.pointId)?.definition.name ?? '').join(', ');
      },
      onCancel,
    );
  }
}
