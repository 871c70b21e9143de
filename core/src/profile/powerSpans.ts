import { meanAt, type Slots } from '../series/index.js';

/** The power of a place in equal spans of time that follow one another; W. Where nothing is known all of them are NaN. */
export interface PowerSpans {
  /** UTC ms. */
  start: number;
  /** ms. */
  step: number;
  length: number;
  mean: Float64Array;
  min: Float64Array;
  max: Float64Array;
  /** At the end of the span. */
  last: Float64Array;
}

/** A span known for less than this share counts as unknown. */
const KNOWN = 0.5;

export const emptySpans = (start: number, step: number, length: number): PowerSpans => {
  const column = () => new Float64Array(length).fill(NaN);
  return { start, step, length, mean: column(), min: column(), max: column(), last: column() };
};

/**
 * The power of a place out of the slots of its points (its lines, say): known where all of them are. The sum of the lowest
 * values of each is not above the lowest of the sum, and that of the highest not below the highest.
 * @param points slots of each, in the same step; blocks that follow one another
 */
export function powerSpans(
  points: readonly (readonly Slots[])[],
  start: number,
  step: number,
  length: number,
): PowerSpans {
  const spans = emptySpans(start, step, length);
  const known = new Uint8Array(length);
  for (const blocks of points)
    for (const slots of blocks) {
      const first = Math.round((slots.start - start) / step);
      for (let i = Math.max(0, -first); i < slots.length && first + i < length; i++) {
        if ((slots.covered[i] as number) < KNOWN * step) continue;
        const k = first + i;
        const begins = known[k] === 0;
        const add = (column: Float64Array, v: number) => (column[k] = begins ? v : (column[k] as number) + v);
        add(spans.mean, meanAt(slots, i));
        add(spans.min, slots.min[i] as number);
        add(spans.max, slots.max[i] as number);
        add(spans.last, slots.last[i] as number);
        known[k] = (known[k] as number) + 1;
      }
    }
  for (let k = 0; k < length; k++)
    if (known[k] !== points.length)
      for (const column of [spans.mean, spans.min, spans.max, spans.last]) column[k] = NaN;
  return spans;
}

/** How much of the period is known, ms. */
export function knownMs({ mean, length, step }: PowerSpans): number {
  let known = 0;
  for (let i = 0; i < length; i++) if (!Number.isNaN(mean[i])) known++;
  return known * step;
}
