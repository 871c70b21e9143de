import type { QualityCode } from './quality.js';

/** A value of a point at an instant (UTC milliseconds); null when there is none, and the quality says why. */
export interface Sample {
  t: number;
  v: number | null;
  q: QualityCode;
}

/**
 * How long a sample speaks for the time after it: until the next one, and at most this long.
 * Two and a half intervals, so that one late or lost poll is bridged and a second one is a gap.
 */
export const holdOf = (intervalMs: number): number => Math.round(intervalMs * 2.5);

/** A reading is on its way for a moment before anybody sees it, ms. */
const UNDER_WAY = 1000;

/**
 * Whether a reading that was taken at t still speaks at `now`, as it is seen from a screen or a watcher: its hold, and the
 * moment that the next one may be under way. Recorded readings are judged by their hold alone.
 */
export const isFresh = (t: number, now: number, intervalMs: number): boolean =>
  now - t <= holdOf(intervalMs) + UNDER_WAY;

/** The interval at which a point was recorded, from an instant on. */
export interface RecordedInterval {
  validFrom: number;
  intervalMs: number;
}

/** The interval in force at t, ms. @param intervals sorted by `validFrom`; before the first one, the first holds */
export function intervalAt(intervals: readonly RecordedInterval[], t: number): number {
  let found = intervals[0];
  for (const entry of intervals) if (entry.validFrom <= t) found = entry;
  return found?.intervalMs ?? 1000;
}

/** The hold in force at t, ms. @param intervals as for {@link intervalAt} */
export const holdAt = (intervals: readonly RecordedInterval[], t: number): number =>
  holdOf(intervalAt(intervals, t));
