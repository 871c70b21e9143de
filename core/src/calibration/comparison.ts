import { coverageFactor } from './student.js';

/** How one point stands to another over a period. */
export interface Comparison {
  /** Blocks in which both are known. */
  blocks: number;
  /** Means over those, base unit. */
  base: number;
  mean: number;
  /** Mean of the differences, base unit, and their standard deviation. */
  difference: number;
  scatter: number;
  /** Ratio of the means; null where the base is nothing. */
  ratio: number | null;
  /** By how much the ratio changes in a day, with its expanded uncertainty, 95 %; null with too little to tell. */
  drift: { perDay: number; uncertainty: number } | null;
}

/** Blocks that are wanted before a drift is told. */
const ENOUGH = 10;
const DAY = 86_400_000;

/**
 * Lays a point beside another, block by block. The drift is that of the ratio: other = base · (a + b · t) by least squares,
 * so that small loads, at which a ratio says little, weigh little.
 * @param t UTC ms of the blocks; @param base and @param other means of the blocks, null in a gap
 * @returns null where the two were never known at once
 */
export function compare(
  t: readonly number[],
  base: readonly (number | null)[],
  other: readonly (number | null)[],
): Comparison | null {
  const pairs = t.flatMap((at, i) => {
    const [x, y] = [base[i], other[i]];
    return x == null || y == null ? [] : [{ t: at / DAY, x, y }];
  });
  const n = pairs.length;
  if (n === 0) return null;
  const sum = (of: (p: (typeof pairs)[number]) => number) => pairs.reduce((a, p) => a + of(p), 0);
  const [meanX, meanY] = [sum((p) => p.x) / n, sum((p) => p.y) / n];
  const difference = meanY - meanX;
  const scatter = n > 1 ? Math.sqrt(sum((p) => (p.y - p.x - difference) ** 2) / (n - 1)) : 0;
  return {
    blocks: n,
    base: meanX,
    mean: meanY,
    difference,
    scatter,
    ratio: meanX === 0 ? null : meanY / meanX,
    drift: driftOf(pairs, sum),
  };
}

function driftOf(
  pairs: readonly { t: number; x: number; y: number }[],
  sum: (of: (p: { t: number; x: number; y: number }) => number) => number,
): Comparison['drift'] {
  const n = pairs.length;
  const weight = sum((p) => p.x ** 2);
  if (n < ENOUGH || !(weight > 0)) return null;
  // About the weighted middle of the time, a and b do not depend on each other.
  const middle = sum((p) => p.x ** 2 * p.t) / weight;
  const spread = sum((p) => p.x ** 2 * (p.t - middle) ** 2);
  if (!(spread > 0)) return null;
  const a = sum((p) => p.x * p.y) / weight;
  const b = sum((p) => p.x * (p.t - middle) * p.y) / spread;
  const left = sum((p) => (p.y - p.x * (a + b * (p.t - middle))) ** 2);
  const deviation = Math.sqrt(left / (n - 2));
  return { perDay: b, uncertainty: (coverageFactor(n - 2) * deviation) / Math.sqrt(spread) };
}
