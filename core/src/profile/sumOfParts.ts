import { emptySpans, type PowerSpans } from './powerSpans.js';

/** A part that was known for less than this share of what the best-known part was, is left out of a sum. */
const ENOUGH = 0.5;

/** The power of a place as the sum of what is measured behind it. */
export interface SumOfParts {
  /** Known where all parts are that it is made of. */
  spans: PowerSpans;
  /** The parts that were left out, by their place in the list: known for too little of the period, as a meter that was fitted at its end. */
  without: number[];
}

/**
 * The sum of some parts over the same spans. A part that was hardly read would take with it all that the others know: it is
 * left out, and named. (The share is common practice for data of which some is missing, not taken from a standard.)
 * @param parts over the same spans; at least one
 */
export function sumOfParts(parts: readonly PowerSpans[]): SumOfParts {
  const known = parts.map(({ mean }) => mean.reduce((count, w) => (Number.isNaN(w) ? count : count + 1), 0));
  const enough = ENOUGH * Math.max(...known);
  const isIn = known.map((count) => count >= enough);
  const [{ start, step, length }] = parts as [PowerSpans];
  const spans = emptySpans(start, step, length);
  for (const column of ['mean', 'min', 'max', 'last'] as const) {
    const sum = spans[column].fill(0);
    parts.forEach((part, i) => {
      if (isIn[i]) part[column].forEach((w, k) => (sum[k] = (sum[k] as number) + w));
    });
  }
  return { spans, without: isIn.flatMap((is, i) => (is ? [] : [i])) };
}
