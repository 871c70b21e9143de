import { counts } from './quality.js';
import type { Sample } from './sample.js';
import { emptySlots, type Slots } from './slots.js';

/** Where samples are rolled up, and how far they speak. */
export interface RollupPlan {
  /** First slot, UTC ms. */
  start: number;
  /** Length of a slot, ms. */
  step: number;
  length: number;
  /** How long a sample taken at t speaks when nothing comes after it, ms. */
  hold: (t: number) => number;
  /** Nothing is known from this instant on: the present. */
  until: number;
}

/**
 * Rolls samples (ascending) up into slots, in one pass. A sample speaks until the next one, whether that is good or
 * bad, at most for its hold and never beyond `until`; the one before the first slot may reach into it and should be
 * given too. A sample that does not count ends what the one before says, and says nothing itself.
 */
export function rollUp(samples: readonly Sample[], { start, step, length, hold, until }: RollupPlan): Slots {
  const slots = emptySlots(start, step, length);
  const end = Math.min(start + length * step, until);
  const { min, max, plus, minus, last, count, covered } = slots;
  for (let i = 0; i < samples.length; i++) {
    const { t, v, q } = samples[i] as Sample;
    if (t >= end) break;
    if (v === null || !counts(q)) continue;
    const next = samples[i + 1]?.t ?? Infinity;
    const to = Math.min(next, t + hold(t), end);
    let k = Math.floor((Math.max(t, start) - start) / step);
    if (t >= start) count[k] = (count[k] as number) + 1;
    for (let from = Math.max(t, start); from < to; k++) {
      const part = Math.min(to, start + (k + 1) * step) - from;
      const whole = (covered[k] as number) + part;
      // The mean over what is covered is moved, and not summed up: nothing overflows, and equal values stay equal.
      const share = part / whole;
      plus[k] = (plus[k] as number) + ((v > 0 ? v : 0) - (plus[k] as number)) * share;
      minus[k] = (minus[k] as number) + ((v < 0 ? -v : 0) - (minus[k] as number)) * share;
      covered[k] = whole;
      if (v < (min[k] as number)) min[k] = v;
      if (v > (max[k] as number)) max[k] = v;
      last[k] = v;
      from += part;
    }
  }
  return slots;
}
