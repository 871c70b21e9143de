/** By how much a reading was off its reference, percent, at an instant. */
export interface Deviation {
  /** UTC ms */
  t: number;
  percent: number;
}

/** What whoever turns the trimmer does next. */
export type TrimStep = 'turn' | 'same-way' | 'other-way' | 'hold' | 'stop';

export interface TrimAdvice {
  step: TrimStep;
  /** For how long it has been inside the tolerance, ms. */
  insideFor: number;
}

/** So long inside, ms, and the trimmer is left alone (common practice). */
export const LEAVE_AFTER = 5000;
/** The way in which it moves is told from so much of the past, ms. */
const TREND = 3500;
/** A change by less than this share of itself, or this many percent, is no turn of a trimmer. */
const [LEAST_SHARE, LEAST_PERCENT] = [0.08, 0.03];

/**
 * What to do about a deviation: the trimmer's direction need not be known, because a deviation that grows says that it was
 * turned the wrong way, and one that has changed its sign that it was turned too far.
 * @param recent oldest first; @param tolerance percent to either side
 */
export function trimAdvice(recent: readonly Deviation[], tolerance: number): TrimAdvice {
  const last = recent.at(-1);
  if (!last) return { step: 'turn', insideFor: 0 };
  const outside = recent.findLastIndex((d) => !(Math.abs(d.percent) <= tolerance));
  const first = recent[outside + 1];
  const insideFor = first ? last.t - first.t : 0;
  if (first) return { step: insideFor >= LEAVE_AFTER ? 'stop' : 'hold', insideFor };
  const before = recent.find((d) => d.t >= last.t - TREND && d.t < last.t);
  if (!before) return { step: 'turn', insideFor: 0 };
  const by = Math.abs(last.percent) - Math.abs(before.percent);
  const least = Math.max(LEAST_PERCENT, LEAST_SHARE * Math.abs(before.percent));
  if (before.percent * last.percent < 0 && Math.abs(before.percent) > tolerance)
    return { step: 'other-way', insideFor: 0 };
  if (by > least) return { step: 'other-way', insideFor: 0 };
  return { step: by < -least ? 'same-way' : 'turn', insideFor: 0 };
}

const [SOFT, END] = [0.3, 10];

/** Where a deviation stands on the scale, −1 to 1: nearly linear within ±0.3 %, narrower outwards, ±10 % at the ends. */
export const trimPosition = (percent: number): number =>
  Math.max(-1, Math.min(1, Math.asinh(percent / SOFT) / Math.asinh(END / SOFT)));
