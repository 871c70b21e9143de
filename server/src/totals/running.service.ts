import type { RunningSeen } from '@loka/contract/totals';
import { runningOf, runningOfSlots, runningThreshold, type SpokenValue } from '@loka/core/energy';
import { HOUR, MINUTE, type Slots } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { powerPointsOf } from '../book/nodePoints.js';
import { ReadingsReader } from '../series/readingsReader.js';
import { SlotReader } from '../series/slotReader.js';

const DAY = 24 * HOUR;
/** Up to this long, single readings are counted: a day of 25 hours. */
const EXACT = 25 * HOUR;
/** So much of minutes is read at a time. */
const STRETCH = 10 * DAY;

/** For how long a place ran, and how often it started. */
@Injectable()
export class RunningService {
  constructor(
    private readonly book: DeviceBook,
    private readonly tree: InstallationBook,
    private readonly reader: ReadingsReader,
    private readonly slots: SlotReader,
  ) {}

  /** Over [from, to), nothing later than now; null where the place has no power. */
  async over(nodeId: number, from: number, to: number): Promise<RunningSeen | null> {
    const points = powerPointsOf(this.book.allPoints().filter((p) => p.nodeId === nodeId));
    const end = Math.min(to, Date.now());
    if (points.length === 0) return null;
    const ids = points.map((p) => p.id);
    const start = Math.max(from, (await this.slots.firstAt(ids)) ?? end);
    const threshold = await this.threshold(nodeId, ids, start, end);
    const nothing = { runMs: 0, starts: 0, known: 0, exact: true, threshold };
    if (end <= start) return nothing;
    const [only] = points;
    const exact = points.length === 1 && end - start <= EXACT;
    const found = exact
      ? await this.exactly(only as KnownPoint, start, end, threshold)
      : await this.byMinutes(ids, start, end, threshold);
    return {
      runMs: found.runMs,
      starts: found.starts,
      known: Math.min(1, found.knownMs / (end - from)),
      exact,
      threshold,
    };
  }

  /** By the plate, or by the highest quarter-hour that was read. */
  private async threshold(nodeId: number, ids: number[], from: number, to: number): Promise<number> {
    const plate = this.tree.node(nodeId)?.ratedPower ?? null;
    if (plate !== null || to <= from) return runningThreshold(plate, null);
    let highest: number | null = null;
    for (const blocks of (await this.slots.read(ids, from, to, 'all')).values())
      for (const slots of blocks)
        for (let i = 0; i < slots.length; i++)
          if ((slots.covered[i] as number) > 0)
            highest = Math.max(
              highest ?? 0,
              Math.abs(slots.max[i] as number),
              Math.abs(slots.min[i] as number),
            );
    return runningThreshold(null, highest);
  }

  private async exactly({ id }: KnownPoint, from: number, to: number, threshold: number) {
    const readings = await this.reader.list(id, from, to, Infinity, true);
    const spoken = readings.map(({ t, v, hold }): SpokenValue => ({ t, v, until: t + hold }));
    return runningOf(spoken, threshold, from, to);
  }

  /** Conductor by conductor together; what they do within a minute at different times is seen as one. */
  private async byMinutes(ids: number[], from: number, to: number, threshold: number) {
    const sum = { runMs: 0, starts: 0, knownMs: 0 };
    let state: boolean | null = null;
    for (let a = from; a < to; a += STRETCH) {
      const found = await this.slots.read(ids, a, Math.min(to, a + STRETCH), 'all', MINUTE);
      const [first = [], ...others] = [...found.values()];
      for (const [k, slots] of first.entries()) {
        const together = others.reduce((whole, blocks) => beside(whole, blocks[k] as Slots), slots);
        const part = runningOfSlots(together, threshold, state);
        state = part.state;
        sum.runMs += part.runMs;
        sum.starts += part.starts;
        sum.knownMs += part.knownMs;
      }
    }
    return sum;
  }
}

/** Two conductors at the same time. */
function beside(a: Slots, b: Slots): Slots {
  const added = (x: Float64Array, y: Float64Array) => x.map((v, i) => v + (y[i] as number));
  return {
    ...a,
    min: added(a.min, b.min),
    max: added(a.max, b.max),
    plus: added(a.plus, b.plus),
    minus: added(a.minus, b.minus),
    last: added(a.last, b.last),
    covered: a.covered.map((ms, i) => Math.min(ms, b.covered[i] as number)),
  };
}
