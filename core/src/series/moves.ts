import { deviation, mean } from 'd3-array';
import { isUsable } from './quality.js';
import type { Sample } from './sample.js';

/** A person's word, or a relay's: from t on the known load was on, or off. */
export interface Mark {
  t: number;
  on: boolean;
}

/** How a value followed the marks. */
export interface Move {
  /** Mean change when the load went on, in the value's unit; negative when it fell. */
  step: number;
  /** Spread of the changes from one switching to the next, standard deviation. */
  spread: number;
  /** Spread of the value while nothing was switched, standard deviation. */
  noise: number;
  /** Switchings at which the change could be seen. */
  switchings: number;
  /** How plainly it follows, 0–1: 1 when every switching moved it by the same step, far above its noise. */
  clarity: number;
  /** The step as a share of the value itself, 0–1: 1 for the load's own value, next to nothing for a voltage that gives way. */
  share: number;
}

/** Readings this soon after a mark are still on their way, ms. */
export const SETTLE = 1500;

/**
 * How a value moved with a load that was switched on and off: the mean between two marks against the mean before.
 * Null when no switching has readings on both sides.
 * @param samples ascending; @param marks ascending, alternating; @param end until when the last mark holds
 */
export function moveWith(samples: readonly Sample[], marks: readonly Mark[], end: number): Move | null {
  const stretches = marks.map(({ t, on }, i) => {
    const until = marks[i + 1]?.t ?? end;
    const inside = samples.filter((s) => s.t >= t + SETTLE && s.t < until && isUsable(s.q) && s.v !== null);
    return { on, ...statistics(inside.map((s) => s.v as number)) };
  });
  const changes: number[] = [];
  stretches.forEach((now, i) => {
    const before = stretches[i - 1];
    if (before && before.on !== now.on && before.count > 0 && now.count > 0)
      changes.push((now.mean - before.mean) * (now.on ? 1 : -1));
  });
  if (changes.length === 0) return null;
  const { mean: step, sd: spread } = statistics(changes);
  const within = stretches.filter((s) => s.count > 1);
  const noise =
    within.length > 0 ? Math.sqrt(within.reduce((sum, s) => sum + s.sd ** 2, 0) / within.length) : 0;
  const doubt = Math.hypot(spread, noise) / Math.sqrt(changes.length);
  const clarity = step === 0 ? 0 : Math.abs(step) / (Math.abs(step) + 2 * doubt);
  const level = Math.max(...stretches.filter((s) => s.count > 0).map((s) => Math.abs(s.mean)));
  const share = step === 0 ? 0 : Math.min(1, Math.abs(step) / level);
  return { step, spread, noise, switchings: changes.length, clarity, share };
}

const statistics = (values: readonly number[]): { count: number; mean: number; sd: number } => ({
  count: values.length,
  mean: mean(values) ?? NaN,
  sd: deviation(values) ?? 0,
});

/**
 * Values that moved, the plainest first. What follows only because the supply's voltage gives way to the load does so
 * just as plainly where its counts are coarse, so the share of the value that moves counts as well.
 */
export const byPlainness = (a: Move, b: Move): number => plainness(b) - plainness(a);

const plainness = ({ clarity, share }: Move): number => clarity * (1 + share);
