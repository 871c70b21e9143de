import { computeOver } from '@loka/core/virtual';
import { MINUTE, type Sample } from '@loka/core/series';
import { Injectable, OnApplicationBootstrap } from '@nestjs/common';
import { CorrectionBook } from '../calibration/correctionBook.js';
import { RebuildsService } from '../calibration/rebuilds.service.js';
import { DeviceBook } from '../devices/deviceBook.js';
import { JobsService, type JobHandle } from '../jobs/jobs.service.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { IntervalBook } from '../series/intervalBook.js';
import { RollupKeeper } from '../series/rollupKeeper.js';
import { SampleStore } from '../series/sampleStore.js';
import { SiteService } from '../site/site.service.js';
import { dependents, inOrder, type Computed } from './virtualGraph.js';

/** Values that are computed at a time. */
const STEPS = 20_000;

interface Span {
  start: number;
  end: number;
}

/**
 * Computes virtual meters from recorded readings: a new one gets the past of its inputs, and what a calibration
 * has changed in the past goes on into the virtual meters that depend on it.
 */
@Injectable()
export class VirtualPastService implements OnApplicationBootstrap {
  private running: Promise<void> = Promise.resolve();

  constructor(
    private readonly book: DeviceBook,
    private readonly store: SampleStore,
    private readonly corrections: CorrectionBook,
    private readonly intervals: IntervalBook,
    private readonly keeper: RollupKeeper,
    private readonly rebuilds: RebuildsService,
    private readonly jobs: JobsService,
    private readonly changes: ChangeFeed,
    private readonly site: SiteService,
  ) {}

  onApplicationBootstrap(): void {
    this.rebuilds.rebuilt.subscribe((spans) => {
      const touched = dependents(
        inOrder(this.book.allPoints()),
        spans.map((s) => s.pointId),
      );
      if (touched.length === 0) return;
      const span = {
        start: Math.min(...spans.map((s) => s.start)),
        end: Math.max(...spans.map((s) => s.end)),
      };
      this.run('Virtual meters brought up to date', touched, () => Promise.resolve(span));
    });
  }

  /** Computes a virtual meter, and those that depend on it, over everything that its inputs have recorded. */
  computeAll(pointId: number): void {
    const order = inOrder(this.book.allPoints());
    const own = order.filter((c) => c.id === pointId);
    const all = [...own, ...dependents(order, [pointId])];
    const name = this.book.point(pointId)?.definition.name ?? '';
    this.run(`${name} from recorded readings`, all, (computed) => this.extentOf(computed));
  }

  /** When all that was asked for is done; for tests, and for a stop. */
  idle(): Promise<void> {
    return this.running;
  }

  private run(title: string, list: Computed[], spanOf: (c: Computed) => Promise<Span | null>): void {
    this.running = this.running.then(() =>
      this.jobs.run(title, async (job) => {
        let done = 0;
        for (const computed of list) {
          const span = await spanOf(computed);
          if (span)
            await this.compute(computed, span, job, (share) => job.progress((done + share) / list.length));
          if (job.cancelled) return 'Stopped; what had been computed stays.';
          done++;
        }
        this.changes.say('history');
        return list.map((c) => c.definition.name).join(', ');
      }),
    );
  }

  private async extentOf({ definition }: Computed): Promise<Span | null> {
    await this.store.flush();
    const extents = await Promise.all(definition.inputs.map((i) => this.store.extent(i.pointId)));
    const known = extents.filter((e) => e !== null);
    if (known.length < extents.length || known.length === 0) return null;
    const start = Math.max(...known.map((e) => e.first));
    return { start: start - (start % MINUTE), end: Date.now() };
  }

  private async compute(
    { id, definition, expression }: Computed,
    { start, end }: Span,
    job: JobHandle,
    progress: (share: number) => void,
  ): Promise<void> {
    const nominal = (await this.site.get())?.nominalVoltage ?? 230;
    let noted = this.intervals.intervalAt(id, 0);
    for (let from = start; from < end;) {
      if (job.cancelled) return;
      // As fine as the coarsest input was recorded then, so that nothing is made up between its readings.
      const stepMs = Math.max(
        definition.intervalMs,
        ...definition.inputs.map((i) => this.intervals.intervalAt(i.pointId, from)),
      );
      const to = Math.min(from + STEPS * stepMs, this.nextChange(definition.inputs, from), end);
      if (stepMs !== noted) await this.noteInterval(id, from, stepMs);
      noted = stepMs;
      const inputs = await Promise.all(
        definition.inputs.map(async ({ name, pointId }) => ({
          name,
          samples: this.corrected(pointId, await this.store.read(pointId, from, to)),
          holdMs: this.intervals.hold(pointId),
        })),
      );
      const samples = [...computeOver(expression, inputs, { from, to, stepMs }, nominal)];
      await this.store.replace(id, from, to, samples);
      await this.keeper.replace(id, from, to);
      progress((to - start) / (end - start));
      from = to;
    }
    if (noted !== definition.intervalMs) await this.noteInterval(id, end, definition.intervalMs);
  }

  /** When one of the inputs was next recorded at another interval; rolled up to the minute, as rollups are. */
  private nextChange(inputs: readonly { pointId: number }[], from: number): number {
    const changes = inputs.map((i) => this.intervals.changeAfter(i.pointId, from));
    const next = Math.min(...changes);
    return Number.isFinite(next) ? Math.max(next - (next % MINUTE), from + MINUTE) : Infinity;
  }

  private async noteInterval(pointId: number, validFrom: number, intervalMs: number): Promise<void> {
    await this.book.intervals.save({ pointId, validFrom, intervalMs });
    await this.intervals.reload();
  }

  private corrected(pointId: number, samples: Sample[]): Sample[] {
    return samples.map(({ t, v, q }) => ({
      t,
      v: v === null ? null : this.corrections.correct(pointId, t, v),
      q,
    }));
  }
}
