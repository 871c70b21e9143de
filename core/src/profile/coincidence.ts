import { maximumDemand, type Demand } from './demand.js';
import { emptySpans, type PowerSpans } from './powerSpans.js';

/** How far the highest demands of several loads fall together. */
export interface Coincidence {
  loads: number;
  /** Their highest demand together. */
  together: Demand;
  /** The sum of the highest demand of each, W. */
  apart: number;
  /** The one over the other, 0 to 1; its reciprocal is the diversity factor. */
  factor: number;
}

/**
 * Coincidence of loads over blocks by the clock, where all of them are known.
 * @param block ms; @returns null of fewer than two loads, or where they are nowhere known together or take nothing
 */
export function coincidenceOf(loads: readonly PowerSpans[], block: number): Coincidence | null {
  const [first] = loads;
  if (!first || loads.length < 2) return null;
  const sum = emptySpans(first.start, first.step, first.length);
  for (let i = 0; i < first.length; i++)
    sum.mean[i] = loads.reduce((all, load) => all + (load.mean[i] ?? NaN), 0);
  // Each for itself where the others are known as well: a highest of another hour is not one of these.
  const own = loads.map((load) =>
    maximumDemand({ ...load, mean: load.mean.map((w, i) => (Number.isNaN(sum.mean[i]) ? NaN : w)) }, block),
  );
  const together = maximumDemand(sum, block);
  const apart = own.reduce((all, one) => all + Math.max(0, one?.watts ?? 0), 0);
  if (!together || apart <= 0) return null;
  return { loads: loads.length, together, apart, factor: Math.max(0, together.watts) / apart };
}
