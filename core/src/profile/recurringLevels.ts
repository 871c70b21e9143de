import { median, range } from 'd3-array';
import type { Levels } from './levels.js';
import type { PowerSpans } from './powerSpans.js';
import { recurrenceOf, type Recurrence } from './recurring.js';
import { visitsOf } from './visits.js';

/** What comes again and again at a place: visits of one of its levels. */
export interface Recurring {
  /** Index of the level. */
  level: number;
  recurrence: Recurrence;
  /** Medians of the visits: ms and Wh. */
  duration: number;
  energy: number;
  count: number;
  last: number;
  /** When it should come next, UTC ms. */
  next: number;
}

/** A level that takes more of the time than this is no event that recurs. */
const EVENT = 0.2;

/** Levels that are not what the load mostly does, and come at a period. @param end up to which it was looked at, UTC ms */
export function recurringLevels(spans: PowerSpans, levels: Levels, end: number): Recurring[] {
  return range(1, levels.levels.length).flatMap((level): Recurring[] => {
    const { time, varies } = levels.levels[level] as Levels['levels'][0];
    if (varies || time > EVENT) return [];
    const visits = visitsOf(spans, levels, level);
    const recurrence = recurrenceOf(
      visits.map((v) => v.start),
      (t) => isKnown(spans, t, t),
    );
    const last = visits.at(-1)?.start;
    if (!recurrence || last === undefined) return [];
    const { period, phase } = recurrence;
    return [
      {
        level,
        recurrence,
        duration: median(visits, (v) => v.end - v.start) as number,
        energy: median(visits, (v) => v.energy) as number,
        count: visits.length,
        last,
        next: phase + Math.ceil((end - phase) / period) * period,
      },
    ];
  });
}

/** Whether all between two instants was read. */
export const isKnown = ({ start, step, mean }: PowerSpans, from: number, to: number): boolean => {
  for (let i = Math.floor((from - start) / step); i <= Math.floor((to - start) / step); i++)
    if (Number.isNaN(mean[i] ?? NaN)) return false;
  return true;
};
