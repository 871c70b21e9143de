import { HOUR, MINUTE } from '../series/index.js';
import type { PowerSpans } from './powerSpans.js';

/** The highest mean power of a block of time. */
export interface Demand {
  /** W. */
  watts: number;
  /** When the block began, UTC ms. */
  at: number;
}

/** A block of which less than this share is known has no demand. */
const KNOWN = 0.9;

/**
 * Maximum demand: the highest mean over blocks that follow one another by the clock, as a meter for billing counts them.
 * @param block ms, a multiple of the spans' length, and a part of an hour or an hour
 * @returns null where no block is known
 */
export const maximumDemand = (spans: PowerSpans, block: number): Demand | null =>
  extreme(spans, block, (watts, best) => watts > best);

/** The same of what was given: the lowest mean below zero, as it is; null where nothing was. */
export function mostGiven(spans: PowerSpans, block: number): Demand | null {
  const lowest = extreme(spans, block, (watts, best) => watts < best);
  return lowest && lowest.watts < 0 ? lowest : null;
}

function extreme(
  { start, step, length, mean }: PowerSpans,
  block: number,
  isBeyond: (watts: number, best: number) => boolean,
): Demand | null {
  const each = block / step;
  if (!Number.isInteger(each)) return null;
  let best: Demand | null = null;
  const first = Math.ceil(start / block) * block;
  for (let i = (first - start) / step, at = first; i + each <= length; i += each, at += block) {
    let [sum, known] = [0, 0];
    for (let k = i; k < i + each; k++) {
      const m = mean[k] as number;
      if (Number.isNaN(m)) continue;
      sum += m;
      known++;
    }
    if (known < KNOWN * each) continue;
    const watts = sum / known;
    if (!best || isBeyond(watts, best.watts)) best = { watts, at };
  }
  return best;
}

/** Blocks over which demand is told. */
export const DEMAND_BLOCKS = [15 * MINUTE, 30 * MINUTE, HOUR] as const;
