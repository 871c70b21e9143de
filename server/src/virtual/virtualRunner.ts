import { computeAt } from '@loka/core/virtual';
import { holdOf, type Sample } from '@loka/core/series';
import { Inject, Injectable, Logger, OnApplicationBootstrap, OnModuleDestroy } from '@nestjs/common';
import { Intake } from '../acquisition/intake.js';
import { CONFIG, type Config } from '../config.js';
import { DeviceBook } from '../devices/deviceBook.js';
import { LiveReadings } from '../live/liveReadings.js';
import { SiteService } from '../site/site.service.js';
import { inOrder, type Computed } from './virtualGraph.js';

const TICK = 1000;
/** Readings of this second are on their way while the clock strikes; the virtual ones follow a little later. */
const LATE = 250;

/** Computes the virtual meters as the readings of their inputs come in, aligned to the wall clock. */
@Injectable()
export class VirtualRunner implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly log = new Logger('virtual meters');
  private order: Computed[] = [];
  private nominal = 230;
  private timer: NodeJS.Timeout | null = null;

  constructor(
    private readonly book: DeviceBook,
    private readonly live: LiveReadings,
    private readonly intake: Intake,
    private readonly site: SiteService,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    if (!this.config.acquire) return;
    this.book.reloaded.subscribe(() => void this.arrange());
    await this.arrange();
    this.next();
  }

  onModuleDestroy(): void {
    if (this.timer) clearTimeout(this.timer);
  }

  private async arrange(): Promise<void> {
    this.order = inOrder(this.book.allPoints());
    try {
      this.nominal = (await this.site.get())?.nominalVoltage ?? this.nominal;
    } catch (error) {
      this.log.warn(`the nominal voltage stays at ${this.nominal} V: ${(error as Error).message}`);
    }
  }

  private next(): void {
    const now = Date.now();
    const strike = (Math.floor((now - LATE) / TICK) + 1) * TICK;
    this.timer = setTimeout(
      () => {
        this.compute(strike);
        this.next();
      },
      strike + LATE - now,
    );
  }

  private compute(t: number): void {
    // One after the other, so that a virtual meter sees the new value of the one before.
    for (const { id, definition, expression } of this.order) {
      if (t % definition.intervalMs !== 0) continue;
      const inputs = new Map<string, Sample | null>();
      for (const { name, pointId } of definition.inputs) inputs.set(name, this.fresh(pointId, t));
      const { v, q } = computeAt(expression, t, inputs, this.nominal);
      this.intake.accept([{ pointId: id, t, raw: v, q }]);
    }
  }

  private fresh(pointId: number, t: number): Sample | null {
    const reading = this.live.get(pointId);
    const point = this.book.point(pointId);
    if (!reading || !point || t - reading.t > holdOf(point.definition.intervalMs)) return null;
    return { t: reading.t, v: reading.v, q: reading.q };
  }
}
