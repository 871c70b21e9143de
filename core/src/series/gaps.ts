import { isUsable } from './quality.js';
import type { Sample } from './sample.js';

/**
 * A line to draw: the values with a null wherever it must break. It breaks at a sample without a usable
 * value, and where the next sample comes later than the hold of the one before allows.
 */
export function breakAtGaps(
  samples: readonly Sample[],
  hold: (t: number) => number,
): { t: number[]; v: (number | null)[]; q: number[] } {
  const line = { t: [] as number[], v: [] as (number | null)[], q: [] as number[] };
  const push = (t: number, v: number | null, q: number) => {
    line.t.push(t);
    line.v.push(v);
    line.q.push(q);
  };
  samples.forEach((sample, i) => {
    const before = samples[i - 1];
    if (before && isUsable(before.q) && sample.t - before.t > hold(before.t))
      push(before.t + hold(before.t), null, 0x80);
    push(sample.t, isUsable(sample.q) ? sample.v : null, sample.q);
  });
  return line;
}
