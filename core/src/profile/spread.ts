import { median, quantileSorted } from 'd3-array';

/** Median and quartiles of some values. */
export interface Spread {
  count: number;
  low: number;
  median: number;
  high: number;
}

/** NaN in all of them where there are no values. */
export function spreadOf(values: readonly number[]): Spread {
  const sorted = [...values].sort((a, b) => a - b);
  return {
    count: sorted.length,
    low: quantileSorted(sorted, 0.25) ?? NaN,
    median: median(sorted) ?? NaN,
    high: quantileSorted(sorted, 0.75) ?? NaN,
  };
}

/** Quartiles of a normal distribution lie so many deviations apart, and its median is so much less sure than its mean. */
const QUARTILES = 1.349;
const MEDIAN = 1.2533;

/**
 * Whether two medians differ by more than chance makes them: by more than twice the standard error of their difference, taken
 * from the quartiles (the notches of a box plot, McGill, Tukey and Larsen 1978, recalled from memory).
 */
export function mediansDiffer(a: Spread, b: Spread): boolean {
  const error = ({ count, low, high }: Spread) => (MEDIAN * (high - low)) / QUARTILES / Math.sqrt(count);
  return Math.abs(a.median - b.median) > 2 * Math.hypot(error(a), error(b));
}
