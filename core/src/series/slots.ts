import { applyLine, IDENTITY, lineOver, type Line } from './line.js';
import { MINUTE } from './spans.js';

/**
 * What is kept of equal spans of time (slots) that follow one another, column by column. A slot in which nothing is
 * known has `covered` 0, and its other columns say nothing: that is a gap, not a zero.
 */
export interface Slots {
  /** Start of the first slot, UTC ms. */
  start: number;
  /** Length of a slot, ms. */
  step: number;
  length: number;
  min: Float64Array;
  max: Float64Array;
  /**
   * Time-weighted mean of the part of the value above zero, over the covered time only; `plus − minus` is the mean.
   * Kept apart so that import and export of a power that changes its direction within a slot are both known.
   */
  plus: Float64Array;
  /** Time-weighted mean of the part below zero, as a positive number. */
  minus: Float64Array;
  last: Float64Array;
  /** Readings that fell into the slot and count. */
  count: Uint32Array;
  /** Milliseconds of the slot for which a value is known. */
  covered: Uint32Array;
}

/**
 * Slots in which nothing is known.
 * @param start UTC ms; @param step ms
 * @param shape false for flow alone: `min`, `max`, `last` and `count` then have no place, and are not to be asked for
 */
export function emptySlots(start: number, step: number, length: number, shape = true): Slots {
  const column = () => new Float64Array(length);
  if (!shape) {
    const none = new Float64Array(0);
    const covered = new Uint32Array(length);
    return {
      start,
      step,
      length,
      min: none,
      max: none,
      plus: column(),
      minus: column(),
      last: none,
      count: NO_COUNT,
      covered,
    };
  }
  return {
    start,
    step,
    length,
    min: column().fill(Infinity),
    max: column().fill(-Infinity),
    plus: column(),
    minus: column(),
    last: column().fill(NaN),
    count: new Uint32Array(length),
    covered: new Uint32Array(length),
  };
}

const NO_COUNT = new Uint32Array(0);

/** Mean over the covered time of slot i; NaN in a gap. */
export const meanAt = (slots: Slots, i: number): number =>
  (slots.covered[i] as number) > 0 ? (slots.plus[i] as number) - (slots.minus[i] as number) : NaN;

/** Slots of a quarter of an hour, of which the days of every zone are made. */
export const QUARTER = 15 * MINUTE;

/**
 * Longer slots out of shorter ones: the quarter-hour out of its minutes. Each begins at a multiple of its length.
 * @param step a multiple of the slots' own
 */
export function coarsen(fine: Slots, step: number): Slots {
  const start = Math.floor(fine.start / step) * step;
  const end = Math.ceil((fine.start + fine.length * fine.step) / step) * step;
  const coarse = emptySlots(start, step, Math.max(0, (end - start) / step));
  for (let i = 0; i < fine.length; i++) addSlot(coarse, slotAt(coarse, fine.start + i * fine.step), fine, i);
  return coarse;
}

/** Index of the slot that holds t; it may lie outside. */
export const slotAt = (slots: Pick<Slots, 'start' | 'step'>, t: number): number =>
  Math.floor((t - slots.start) / slots.step);

/** Adds slot i of `from` to slot k of `into`, which it lies in, after what is there already. */
export function addSlot(into: Slots, k: number, from: Slots, i: number): void {
  const covered = from.covered[i] as number;
  into.count[k] = (into.count[k] as number) + (from.count[i] as number);
  if (covered === 0) return;
  const whole = (into.covered[k] as number) + covered;
  // The mean is moved, and not summed up: a value near the largest number does not overflow, and equal ones stay equal.
  const share = covered / whole;
  const [plus, minus] = [into.plus[k] as number, into.minus[k] as number];
  into.plus[k] = plus + ((from.plus[i] as number) - plus) * share;
  into.minus[k] = minus + ((from.minus[i] as number) - minus) * share;
  into.min[k] = Math.min(into.min[k] as number, from.min[i] as number);
  into.max[k] = Math.max(into.max[k] as number, from.max[i] as number);
  into.last[k] = from.last[i] as number;
  into.covered[k] = whole;
}

/** Puts the slots of `from` in the place of those of `into` at the same time; both have the same step. */
export function pasteSlots(into: Slots, from: Slots): void {
  const first = slotAt(into, from.start);
  const skip = Math.max(0, -first);
  const length = Math.min(from.length, into.length - first);
  if (length <= skip) return;
  for (const column of COLUMNS)
    if (into[column].length > 0 && from[column].length > 0)
      (into[column] as Float64Array).set((from[column] as Float64Array).subarray(skip, length), first + skip);
}

/** The columns of slots, in the order in which they are kept. */
export const COLUMNS = ['plus', 'minus', 'covered', 'min', 'max', 'last', 'count'] as const;

/** The part of slots in [from, to); both on their borders. */
export function sliceSlots(slots: Slots, from: number, to: number): Slots {
  const cut = emptySlots(from, slots.step, Math.max(0, Math.round((to - from) / slots.step)));
  pasteSlots(cut, slots);
  return cut;
}

/**
 * Slots of raw values as those of gain · raw + offset; exact for mean, min, max and last, but for the mean where a line
 * bends within a slot (see {@link lineOver}). Where an offset meets a value
 * that changed its sign within the slot, what was above and below zero is known only in sum, and the offset is given to
 * the larger of the two.
 */
export function correctSlots(slots: Slots, lineOf: (i: number) => Line | null): Slots {
  const out = emptySlots(slots.start, slots.step, slots.length);
  out.count.set(slots.count);
  out.covered.set(slots.covered);
  for (let i = 0; i < slots.length; i++) {
    if ((slots.covered[i] as number) === 0) continue;
    const line = lineOf(i) ?? IDENTITY;
    const [least, most] = [slots.min[i] as number, slots.max[i] as number];
    const [low, high] = [applyLine(line, least), applyLine(line, most)];
    out.min[i] = Math.min(low, high);
    out.max[i] = Math.max(low, high);
    out.last[i] = applyLine(line, slots.last[i] as number);
    const [plus, minus] = correctFlow(
      slots.plus[i] as number,
      slots.minus[i] as number,
      lineOver(line, least, most),
      out.min[i] as number,
      out.max[i] as number,
    );
    out.plus[i] = plus;
    out.minus[i] = minus;
  }
  return out;
}

/** What lies above and below zero of gain · raw + offset. @param min, max corrected, where they are known */
export function correctFlow(
  plus: number,
  minus: number,
  { gain, offset }: Line,
  min = -Infinity,
  max = Infinity,
): [plus: number, minus: number] {
  const mean = gain * (plus - minus) + offset;
  if (min >= 0) return [mean, 0];
  if (max <= 0) return [0, -mean];
  const [above, below] = gain >= 0 ? [gain * plus, gain * minus] : [-gain * minus, -gain * plus];
  if (offset === 0) return [above, below];
  const [a, b] = above >= below ? [above + offset, below] : [above, below - offset];
  // What the offset takes below zero is on the other side of it.
  if (a < 0) return [0, b - a];
  if (b < 0) return [a - b, 0];
  return [a, b];
}
