import { median } from 'd3-array';

/** How something has gone up or down over a time. */
export interface Trend {
  /** By the line through it: at the first instant, and at the last. */
  from: number;
  to: number;
  /** By chance something as steady would come once in so many cases: 0.001 is once in a thousand. */
  chance: number;
  count: number;
}

const LEAST = 8;

/**
 * Whether values go steadily up or down: the test of Mann and Kendall, with ties, by its normal approximation; the line is that
 * of Theil and Sen, through the medians (Gilbert, Statistical Methods for Environmental Pollution Monitoring, 1987, chapter 16;
 * recalled from memory, checked against scipy). A single value that lies far off changes neither much.
 * @param times ascending
 * @returns null of fewer than eight
 */
export function trendOf(times: readonly number[], values: readonly number[]): Trend | null {
  const n = times.length;
  if (n < LEAST || values.length !== n) return null;
  let score = 0;
  const slopes: number[] = [];
  for (let i = 0; i < n; i++)
    for (let k = i + 1; k < n; k++) {
      const rise = (values[k] as number) - (values[i] as number);
      score += Math.sign(rise);
      slopes.push(rise / ((times[k] as number) - (times[i] as number)));
    }
  const alike = new Map<number, number>();
  for (const v of values) alike.set(v, (alike.get(v) ?? 0) + 1);
  const weight = (m: number) => m * (m - 1) * (2 * m + 5);
  const variance = [...alike.values()].reduce((left, m) => left - weight(m), weight(n)) / 18;
  const z = variance > 0 ? Math.abs(score) / Math.sqrt(variance) : 0;
  const slope = median(slopes) as number;
  const at = (t: number) => slope * (t - (median(times) as number)) + (median(values) as number);
  return { from: at(times[0] as number), to: at(times[n - 1] as number), chance: bothTails(z), count: n };
}

/** Beyond z on either side of a normal distribution: Abramowitz and Stegun 7.1.26 (recalled from memory), to 2e-7. */
function bothTails(z: number): number {
  const t = 1 / (1 + (0.3275911 * z) / Math.SQRT2);
  const sum =
    t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))));
  return sum * Math.exp((-z * z) / 2);
}
