import { HOUR } from '../series/index.js';
import type { PowerSpans } from './powerSpans.js';

/** For how much of the time a power was reached: from the highest down. */
export interface DurationCurve {
  /** W at equal shares of the known time, from that which is never passed to that which is always reached. */
  watts: number[];
  /** Known time, ms. */
  known: number;
  mean: number;
  highest: number;
  lowest: number;
  /** Reached 95 % of the time (common practice for the base of a load). */
  base: number;
  /** Mean over the highest span. */
  loadFactor: number | null;
  /** Hours at the highest power that the energy would take. */
  utilisation: number | null;
}

const BASE = 0.95;

/** @param points of the curve; @returns null where nothing is known */
export function durationCurve({ mean, step }: PowerSpans, points = 201): DurationCurve | null {
  const values = mean.filter((v) => !Number.isNaN(v)).sort();
  if (values.length === 0) return null;
  /** Between two values in a straight line. */
  const at = (share: number) => {
    const i = (1 - share) * (values.length - 1);
    const low = values[Math.floor(i)] as number;
    return low + (i - Math.floor(i)) * ((values[Math.ceil(i)] as number) - low);
  };
  const all = values.reduce((a, b) => a + b, 0) / values.length;
  const highest = values.at(-1) as number;
  const known = values.length * step;
  return {
    watts: Array.from({ length: points }, (_, i) => at(i / (points - 1))),
    known,
    mean: all,
    highest,
    lowest: values[0] as number,
    base: at(BASE),
    loadFactor: highest > 0 ? all / highest : null,
    utilisation: highest > 0 ? (all * known) / HOUR / highest : null,
  };
}

/** So fine is the scale of powers on which time is added up: a part in a million of what lies between the lowest and the highest. */
const BINS = 2 ** 20;

/**
 * The curve of single readings, each for as long as it held: time is added up on a fine scale of powers, so that two and a half
 * million of them take a fraction of a second. A power of the curve is off by a millionth of the range at most.
 * @param watts of each reading; @param held ms of each
 * @returns null where nothing held
 */
export function durationOfReadings(
  watts: ArrayLike<number>,
  held: ArrayLike<number>,
  points = 201,
): DurationCurve | null {
  let [lowest, highest, known, energy] = [Infinity, -Infinity, 0, 0];
  for (let i = 0; i < watts.length; i++) {
    const [w, ms] = [watts[i] as number, held[i] as number];
    if (!(ms > 0)) continue;
    lowest = Math.min(lowest, w);
    highest = Math.max(highest, w);
    known += ms;
    energy += w * ms;
  }
  if (known === 0) return null;
  const range = highest - lowest || 1;
  const time = new Float64Array(BINS);
  for (let i = 0; i < watts.length; i++) {
    const ms = held[i] as number;
    if (!(ms > 0)) continue;
    const bin = Math.min(BINS - 1, Math.floor((((watts[i] as number) - lowest) / range) * BINS));
    time[bin] = (time[bin] as number) + ms;
  }
  // From the highest down: the power that was reached for each share of the time.
  const curve: number[] = [highest];
  let [bin, passed] = [BINS - 1, 0];
  const reached = (share: number): number => {
    while (bin > 0 && passed + (time[bin] as number) < share * known) passed += time[bin--] as number;
    return lowest + ((bin + 0.5) / BINS) * range;
  };
  let base = lowest;
  for (let k = 1; k < points - 1; k++) {
    const share = k / (points - 1);
    const before = (k - 1) / (points - 1);
    if (before < BASE && share >= BASE) base = reached(BASE);
    curve.push(reached(share));
  }
  curve.push(lowest);
  const mean = energy / known;
  return {
    watts: curve,
    known,
    mean,
    highest,
    lowest,
    base,
    loadFactor: highest > 0 ? mean / highest : null,
    utilisation: highest > 0 ? energy / HOUR / highest : null,
  };
}
