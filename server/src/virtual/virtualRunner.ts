import { assumedBetween, computeAt } from '@loka/core/virtual';
import { holdOf, QUALITY, type Sample } from '@loka/core/series';
import { Inject, Injectable, OnApplicationBootstrap, OnModuleDestroy } from '@nestjs/common';
import { Intake } from '../acquisition/intake.js';
import { DeviceBook } from '../book/deviceBook.js';
import { CONFIG, type Config } from '../config.js';
import { LiveReadings } from '../live/liveReadings.js';
import { DerivingMeters } from './derivingMeters.js';

const TICK = 1000;
/** Readings of this second are on their way while the clock strikes; the virtual ones follow a little later. */
const LATE = 250;

/**
 * Shows what virtual meters read now, aligned to the wall clock. It is provisional: what is stored comes from the same
 * formula over what has been stored of the inputs, once a minute is over, on the same instants.
 */
@Injectable()
export class VirtualRunner implements OnApplicationBootstrap, OnModuleDestroy {
  private timer: NodeJS.Timeout | null = null;

  constructor(
    private readonly book: DeviceBook,
    private readonly live: LiveReadings,
    private readonly intake: Intake,
    private readonly meters: DerivingMeters,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  onApplicationBootstrap(): void {
    if (this.config.acquire) this.next();
  }

  onModuleDestroy(): void {
    if (this.timer) clearTimeout(this.timer);
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
    for (const { id, definition, expression } of this.meters.all()) {
      if (t % this.meters.intervalAt(id, t) !== 0) continue;
      const inputs = new Map<string, Sample | null>();
      for (const { name, pointId } of definition.inputs) inputs.set(name, this.valueAt(pointId, t));
      const nominal = this.meters.nominalAt(id, t);
      const { v, q } = computeAt(expression, t, inputs, nominal);
      const between = q === QUALITY.assumed ? assumedBetween(expression, inputs, nominal) : null;
      this.intake.show([{ pointId: id, t, raw: v, q, ...(between ? { between } : {}) }]);
    }
  }

  private valueAt(pointId: number, t: number): Sample | null {
    const reading = this.live.at(pointId, t);
    const point = this.book.point(pointId);
    if (!reading || !point || t - reading.t > holdOf(point.definition.intervalMs)) return null;
    return { t: reading.t, v: reading.v, q: reading.q };
  }
}
