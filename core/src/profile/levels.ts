import { bisectRight } from 'd3-array';
import type { PowerSpans } from './powerSpans.js';

/** A power at which a load stays. */
export interface Level {
  /** Median of the spans that stay at it, W. */
  watts: number;
  /** Between which nine tenths of them lie, W. */
  low: number;
  high: number;
  /** Share of the known time, from 0 to 1. */
  time: number;
  /** Share of the energy. */
  energy: number;
  /** It goes anywhere between `low` and `high`, as a drive does. */
  varies: boolean;
}

export interface Levels {
  /** From the lowest up. */
  levels: Level[];
  /** Share of the known time in which it went from one to another, or stayed nowhere. */
  between: number;
  /** Share of the energy then. */
  betweenEnergy: number;
  /** Watts that tell two levels apart at no load: below them everything is one. */
  floor: number;
}

/** By how much the reading of a steady load wanders: so many watts, this share of the highest power, this share of its own. */
const WANDER = { watts: 0.2, ofHighest: 0.0005, ofItself: 0.01 };
/** Levels are told apart on an axis of such wanders: the width of a bin and of the blur over them. */
const BIN = 0.25;
const BLUR = 1.5;
/** Below so many wanders everything is no load. */
const NOTHING = 3;
/** A span in which the power moves no more than this share of itself, or so many wanders at no load, stays at one level. */
const STEADY = 0.2;
const STEADY_WANDERS = 8;
/** Between two levels there is a valley, at most so deep a share of the lower one. */
const VALLEY = 0.5;
/** A level holds at least this share of the known time, and so many spans. */
const LEAST_TIME = 0.004;
const LEAST_SPANS = 3;
/** Where it is wider than this share of itself, or so many wanders, the load goes anywhere between the ends. */
const WIDEST = 0.25;
const WIDEST_WANDERS = 12;

/**
 * Levels at which a load stays, by the density of its power: where spans that stay at one value heap up, with a valley
 * on either side. Near no load the axis is one of watts, above it one of shares: a meter's own wander does not go with the
 * load, that of the load does (common practice).
 */
export function levelsOf(spans: PowerSpans): Levels {
  const { mean, min, max, length } = spans;
  let [known, energy, highest] = [0, 0, 0];
  for (let i = 0; i < length; i++) {
    const m = mean[i] as number;
    if (Number.isNaN(m)) continue;
    known++;
    energy += m;
    highest = Math.max(highest, Math.abs(m));
  }
  const wander = WANDER.watts + WANDER.ofHighest * highest;
  const floor = NOTHING * wander;
  const none = { levels: [], between: known > 0 ? 1 : 0, betweenEnergy: energy !== 0 ? 1 : 0, floor };
  if (known === 0) return none;
  const axis = (watts: number) => Math.asinh((watts * WANDER.ofItself) / wander) / WANDER.ofItself;
  const steady: number[] = [];
  for (let i = 0; i < length; i++) {
    const m = mean[i] as number;
    const most = Math.max(STEADY * Math.abs(m), STEADY_WANDERS * wander);
    if ((max[i] as number) - (min[i] as number) <= most) steady.push(m);
  }
  if (steady.length === 0) return none;
  const values = Float64Array.from(steady).sort();
  const [from, to] = [axis(values[0] as number) - 5 * BLUR, axis(values.at(-1) as number) + 5 * BLUR];
  const density = blurred(values, axis, from, Math.ceil((to - from) / BIN) + 1);
  const levels: Level[] = [];
  let [taken, takenEnergy, at] = [0, 0, 0];
  for (const border of [...valleysOf(density).map((k) => from + k * BIN), Infinity]) {
    const begin = at;
    while (at < values.length && axis(values[at] as number) < border) at++;
    const count = at - begin;
    if (count < Math.max(LEAST_SPANS, LEAST_TIME * known)) continue;
    const quantile = (q: number) => values[begin + Math.min(count - 1, Math.floor(q * count))] as number;
    const [watts, low, high] = [quantile(0.5), quantile(0.05), quantile(0.95)];
    const varies = high - low > Math.max(WIDEST * Math.abs(watts), WIDEST_WANDERS * wander);
    let sum = 0;
    for (let i = begin; i < at; i++) sum += values[i] as number;
    taken += count;
    takenEnergy += sum;
    levels.push({ watts, low, high, time: count / known, energy: energy === 0 ? 0 : sum / energy, varies });
  }
  return {
    levels: withoutShreds(levels),
    between: 1 - taken / known,
    betweenEnergy: energy === 0 ? 0 : 1 - takenEnergy / energy,
    floor,
  };
}

/** A heap beside a range, with less than this share of its time, is a shred of it. */
const SHRED = 0.1;

/** Ranges with the small heaps beside them taken in: they lie there by chance. */
function withoutShreds(levels: readonly Level[]): Level[] {
  const out: Level[] = [];
  for (const level of levels) {
    const before = out.at(-1);
    const shred = before && (before.varies ? isShred(level, before) : level.varies && isShred(before, level));
    if (!before || !shred) out.push(level);
    else {
      const [large] = before.varies ? [before] : [level];
      out[out.length - 1] = {
        ...large,
        low: before.low,
        high: level.high,
        time: before.time + level.time,
        energy: before.energy + level.energy,
      };
    }
  }
  return out;
}
const isShred = (small: Level, range: Level): boolean => small.time < SHRED * range.time;

/** Which of the levels a power is nearest to, by index: between two of them halfway on the axis of shares. */
export function levelAt({ levels, floor }: Pick<Levels, 'levels' | 'floor'>): (watts: number) => number {
  const axis = (watts: number) => Math.asinh(watts / floor);
  const borders = levels.slice(1).map((above, i) => {
    const below = levels[i] as Level;
    return floor * Math.sinh((axis(below.high) + axis(above.low)) / 2);
  });
  return (watts) => bisectRight(borders, watts);
}

/** How many values lie about each bin. */
function blurred(
  values: Float64Array,
  axis: (watts: number) => number,
  from: number,
  bins: number,
): Float64Array {
  const counts = new Float64Array(bins);
  for (const v of values) {
    const k = Math.min(bins - 1, Math.max(0, Math.round((axis(v) - from) / BIN)));
    counts[k] = (counts[k] as number) + 1;
  }
  const reach = Math.ceil((3 * BLUR) / BIN);
  const kernel = Array.from({ length: 2 * reach + 1 }, (_, j) =>
    Math.exp(-0.5 * (((j - reach) * BIN) / BLUR) ** 2),
  );
  const out = new Float64Array(bins);
  for (let k = 0; k < bins; k++) {
    const count = counts[k] as number;
    if (count === 0) continue;
    for (let j = Math.max(-reach, -k); j <= reach && k + j < bins; j++)
      out[k + j] = (out[k + j] as number) + count * (kernel[j + reach] as number);
  }
  return out;
}

/** The bins of the valleys between heaps: those that lie at most half as high as the lower of the two beside them. */
function valleysOf(density: Float64Array): number[] {
  const heaps: { height: number; valley: { height: number; at: number } }[] = [];
  let [rising, lowest, lowestAt] = [true, 0, 0];
  for (let k = 1; k <= density.length; k++) {
    const [before, d] = [density[k - 1] as number, density[k] ?? -1];
    if (rising && d < before) {
      // The valley is that before the heap.
      heaps.push({ height: before, valley: { height: lowest, at: lowestAt } });
      rising = false;
      [lowest, lowestAt] = [d, k];
    } else if (!rising && d > before) rising = true;
    else if (!rising) [lowest, lowestAt] = [d, k];
  }
  // The shallowest first: what is one heap with its neighbour stands no longer between others.
  for (;;) {
    let [shallowest, at] = [VALLEY, 0];
    for (let i = 1; i < heaps.length; i++) {
      const [a, b] = [heaps[i - 1], heaps[i]] as [(typeof heaps)[0], (typeof heaps)[0]];
      const depth = b.valley.height / Math.min(a.height, b.height);
      if (depth > shallowest) [shallowest, at] = [depth, i];
    }
    if (at === 0) return heaps.slice(1).map(({ valley }) => valley.at);
    const [a, b] = [heaps[at - 1], heaps[at]] as [(typeof heaps)[0], (typeof heaps)[0]];
    a.height = Math.max(a.height, b.height);
    heaps.splice(at, 1);
  }
}
