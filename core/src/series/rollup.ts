import { isUsable } from './quality.js';
import type { Sample } from './sample.js';

/** What is kept of a span of time. `mean` is weighted by time over the covered part only. */
export interface Rollup {
  /** Start of the span, UTC milliseconds. */
  t: number;
  min: number;
  max: number;
  mean: number;
  /** Number of usable readings that fell into the span. */
  count: number;
  /** Milliseconds of the span for which a value is known. */
  covered: number;
  /** Last value in the span. */
  last: number;
}

/**
 * The rollup of [start, end) from samples in ascending order. A sample speaks until the next one (good or bad)
 * and at most for its hold; the one before `start` may reach into the span and should be given too.
 * Null when nothing usable touches the span: that is a gap, not a zero.
 */
export function rollUp(
  samples: readonly Sample[],
  start: number,
  end: number,
  hold: (t: number) => number,
): Rollup | null {
  let min = Infinity;
  let max = -Infinity;
  let area = 0;
  let covered = 0;
  let count = 0;
  let last = NaN;
  for (let i = 0; i < samples.length; i++) {
    const { t, v, q } = samples[i] as Sample;
    if (t >= end) break;
    if (v === null || !isUsable(q)) continue;
    const next = samples[i + 1]?.t ?? Infinity;
    const until = Math.min(next, t + hold(t), end);
    const from = Math.max(t, start);
    if (t >= start) count++;
    if (until <= from) continue;
    covered += until - from;
    area += v * (until - from);
    min = Math.min(min, v);
    max = Math.max(max, v);
    last = v;
  }
  if (covered === 0) return null;
  return { t: start, min, max, mean: area / covered, count, covered, last };
}

/** One rollup out of several shorter ones, for example the quarter-hour out of its minutes. Null for none. */
export function mergeRollups(parts: readonly Rollup[], t: number): Rollup | null {
  if (parts.length === 0) return null;
  const covered = parts.reduce((sum, p) => sum + p.covered, 0);
  return {
    t,
    min: Math.min(...parts.map((p) => p.min)),
    max: Math.max(...parts.map((p) => p.max)),
    mean: parts.reduce((sum, p) => sum + p.mean * p.covered, 0) / covered,
    count: parts.reduce((sum, p) => sum + p.count, 0),
    covered,
    last: (parts[parts.length - 1] as Rollup).last,
  };
}

/** Start of the span of `length` milliseconds that holds t. */
export const spanStart = (t: number, length: number): number => Math.floor(t / length) * length;

export const MINUTE = 60_000;
