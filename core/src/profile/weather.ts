import { HOUR } from '../series/index.js';
import type { ProfileCalendar } from './calendar.js';
import type { PowerSpans } from './powerSpans.js';
import type { DayKind } from './workdays.js';

/** A whole day: what a place took, and how warm it was outside. */
export interface WeatherDay {
  /** UTC ms. */
  start: number;
  kind: DayKind;
  /** Wh. */
  energy: number;
  /** Mean of the day, °C. */
  celsius: number;
}

/** A day read for less than this share is left out. */
const READ = 0.9;

/**
 * The days of which both are known; nothing of a day that has not come to its end.
 * @param power of the place, W
 * @param outside temperature over the same period, °C; its steps may differ
 */
export function weatherDays(
  power: PowerSpans,
  outside: PowerSpans,
  { days, dayKind }: ProfileCalendar,
): WeatherDay[] {
  const end = power.start + power.length * power.step;
  return days.flatMap((day) => {
    if (day.end > end) return [];
    const [watts, celsius] = [meanIn(power, day), meanIn(outside, day)];
    return watts === null || celsius === null
      ? []
      : [
          {
            start: day.start,
            kind: dayKind(day.start),
            energy: (watts * (day.end - day.start)) / HOUR,
            celsius,
          },
        ];
  });
}

/** The mean of a stretch; null where less than nine tenths of it are known. */
function meanIn(spans: PowerSpans, { start, end }: { start: number; end: number }): number | null {
  const first = Math.max(0, Math.ceil((start - spans.start) / spans.step));
  const last = Math.min(spans.length, Math.floor((end - spans.start) / spans.step));
  let [sum, known] = [0, 0];
  for (let i = first; i < last; i++) {
    const m = spans.mean[i] as number;
    if (Number.isNaN(m)) continue;
    sum += m;
    known++;
  }
  return known * spans.step < READ * (end - start) ? null : sum / known;
}

/** Whether days below the base temperature count, as of heating, or those above it, as of cooling. */
export type Side = 'below' | 'above';

/** By how much a day is colder (warmer) than a base, K: its degree days. */
export const degreesOf = (celsius: number, base: number, side: Side): number =>
  Math.max(0, side === 'below' ? base - celsius : celsius - base);
