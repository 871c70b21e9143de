import { HOUR, spanEnd, spanStart } from '@loka/core/series';
import { Injectable, OnApplicationBootstrap } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { type EntityManager, Repository } from 'typeorm';
import { DeviceBook } from '../book/deviceBook.js';
import { JobsService } from '../jobs/jobs.service.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { Counters } from './counters.js';
import { DerivedPoints } from './derivedPoints.js';
import { Journal } from './journal.js';
import { RebuildEntity } from './rebuild.entity.js';
import { RollupWorker } from './rollupWorker.js';

/** So much of a point is worked out between two notes of how far it has come. */
const CHUNK = 10 * 24 * HOUR;

/**
 * Works stretches of points out again, as a job with progress. What is to be done lies in the database before it begins,
 * so that a stop in between is made up for at the next start.
 */
@Injectable()
export class RebuildsService implements OnApplicationBootstrap {
  private running: Promise<void> = Promise.resolve();

  constructor(
    @InjectRepository(RebuildEntity) readonly rows: Repository<RebuildEntity>,
    private readonly jobs: JobsService,
    private readonly worker: RollupWorker,
    private readonly journal: Journal,
    private readonly derived: DerivedPoints,
    private readonly counters: Counters,
    private readonly book: DeviceBook,
    private readonly changes: ChangeFeed,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    const left = await this.rows.find({ order: { id: 'ASC' } });
    if (left.length > 0) void this.run('Rollups worked out after the last stop', left);
  }

  /** When all that was asked for is done; for tests, and for a stop. */
  idle(): Promise<void> {
    return this.running;
  }

  /**
   * Notes that points have to be recalculated from an instant on, those that are computed from them included; the
   * points themselves only where `own` says so, because a straight line is applied on reading.
   */
  async plan(
    tables: EntityManager,
    pointIds: readonly number[],
    from: number,
    { own, calibrationId = null }: { own: boolean; calibrationId?: number | null },
  ): Promise<RebuildEntity[]> {
    const wanted = this.derived.order([
      ...new Set(pointIds.flatMap((id) => [...(own ? [id] : []), ...this.derived.dependents(id)])),
    ]);
    const plans: Omit<RebuildEntity, 'id'>[] = [];
    for (const pointId of wanted) {
      const had = await this.journal.extent(pointId);
      // What is computed for the first time begins where it is asked to; what is computed again where it had begun.
      const extent = this.derived.isDerived(pointId)
        ? { first: own ? from : (had?.first ?? Infinity), last: Date.now() }
        : had;
      if (!extent || extent.last < from || extent.first > extent.last) continue;
      // A counter is followed from its first reading on: what it has counted depends on all that came before.
      const first = this.counters.isCounter(pointId) ? extent.first : Math.max(from, extent.first);
      const start = spanStart(first, HOUR);
      plans.push({ pointId, calibrationId, start, end: spanEnd(extent.last + 1, HOUR), done: start });
    }
    return tables.save(RebuildEntity, plans);
  }

  /** Works rebuilds off, one job after the other. @param onCancel what has to happen when somebody stops it halfway */
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
          const { pointId } = rebuild;
          const counter = this.counters.isCounter(pointId) && !this.derived.isDerived(pointId);
          const end = counter ? spanEnd(Date.now(), HOUR) : rebuild.end;
          const chunk = counter ? Infinity : CHUNK;
          for (let from = rebuild.done; from < end; from += chunk) {
            if (job.cancelled) return 'Stopped; what had been worked out stays.';
            const to = Math.min(from + chunk, end);
            await this.worker.rebuild(pointId, from, to, counter);
            await this.rows.update(rebuild.id, { done: to });
            covered += to - from;
            job.progress(whole > 0 ? Math.min(1, covered / whole) : 1);
          }
          await this.rows.delete({ id: rebuild.id });
        }
        this.changes.say('history');
        return [...new Set(rebuilds.map((r) => this.book.point(r.pointId)?.definition.name ?? ''))].join(
          ', ',
        );
      },
      onCancel,
    );
  }
}
