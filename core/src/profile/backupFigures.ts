import { quantileSorted } from 'd3-array';
import {
  drawnBy,
  overloads,
  quarters,
  takenOut,
  type BackupSource,
  type Drawn,
  type Outage,
} from './backup.js';
import type { PowerSpans } from './powerSpans.js';

/** How outages end, counted against the time that the source has to carry the loads. */
export interface BackupFigures {
  /** Carried for that long, failed before, and those of which what was recorded ends before either. */
  carried: number;
  failed: number;
  unknown: number;
  /** Half of the outages last longer, ms; null where fewer than half are seen to end. */
  median: number | null;
  /** The shortest that is seen to end; null where none is. */
  worst: Outage | null;
}

/** @param lasting for how long it has to carry, ms */
export function backupFigures(list: readonly Outage[], lasting: number): BackupFigures {
  const ended = list.filter((o) => o.ends !== 'unknown');
  return {
    carried: list.filter((o) => o.lasts >= lasting).length,
    failed: ended.filter((o) => o.lasts < lasting).length,
    unknown: list.filter((o) => o.ends === 'unknown' && o.lasts < lasting).length,
    median: medianLasting(list),
    worst: ended.reduce<Outage | null>((worst, o) => (worst && worst.lasts <= o.lasts ? worst : o), null),
  };
}

/**
 * The time that half of them outlast. Those whose end was not recorded count for as long as they were seen: the product-limit
 * estimate of Kaplan and Meier (1958), its formula recalled from memory.
 */
export function medianLasting(list: readonly Pick<Outage, 'lasts' | 'ends'>[]): number | null {
  // Of those that go so far, what ends comes before what is lost sight of.
  const sorted = [...list].sort(
    (a, b) => a.lasts - b.lasts || Number(a.ends === 'unknown') - Number(b.ends === 'unknown'),
  );
  let share = 1;
  for (const [i, { lasts, ends }] of sorted.entries()) {
    if (ends === 'unknown') continue;
    share *= 1 - 1 / (sorted.length - i);
    if (share <= 0.5 + 1e-12) return lasts;
  }
  return null;
}

/** The smallest source that carries the loads for so long. */
export interface BackupNeed {
  /** W, with the peak lasting as long as that of the source asked about. */
  continuous: number;
  peak: number;
  /** If the highest of all loads fell together, W. */
  together: number;
  /** Wh that it stores, for every start and for 95 of 100. */
  energy: number;
  mostly: number;
  /** Starts of which the whole time was recorded. */
  starts: number;
}

/** @returns null where no start has the whole time recorded */
export function backupNeed(
  loads: readonly PowerSpans[],
  source: BackupSource,
  lasting: number,
  sun: Float64Array | null = null,
): BackupNeed | null {
  const drawn = drawnBy(loads);
  const energies = drawdowns(drawn, source, lasting, sun).sort((a, b) => a - b);
  if (energies.length === 0) return null;
  const top = highest(drawn.top);
  return {
    continuous: leastContinuous(drawn, source.peakFor, top),
    peak: top,
    together: highest(drawn.together),
    energy: (energies.at(-1) as number) / source.charged,
    mostly: (quantileSorted(energies, 0.95) as number) / source.charged,
    starts: energies.length,
  };
}

const highest = (values: Float64Array): number =>
  values.reduce((most, v) => (Number.isNaN(v) ? most : Math.max(most, v)), 0);

/** What each outage takes out of the store at its lowest, Wh; of those alone that are known for the whole time. */
function drawdowns(drawn: Drawn, source: BackupSource, lasting: number, sun: Float64Array | null): number[] {
  const spans = Math.ceil(lasting / drawn.step);
  const out = takenOut(drawn, source, sun);
  return quarters(drawn).flatMap((from) => {
    if (from + spans > drawn.length) return [];
    let [sum, most] = [0, 0];
    for (let i = from; i < from + spans; i++) {
      sum += out[i] as number;
      if (sum < 0) sum = 0;
      if (sum > most) most = sum;
    }
    // A gap makes it NaN to its end.
    return Number.isNaN(sum) ? [] : [most];
  });
}

/** Within a watt: halved until it is found, for what carries more carries less. */
function leastContinuous(drawn: Drawn, peakFor: number, top: number): number {
  let [low, high] = [0, top];
  while (high - low > 0.5) {
    const continuous = (low + high) / 2;
    if (overloads(drawn, { continuous, peak: Infinity, peakFor }).includes('continuous')) low = continuous;
    else high = continuous;
  }
  return high;
}
