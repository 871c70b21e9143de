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
