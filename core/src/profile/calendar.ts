import { calendarBorders, siteClock, type TimeSpan } from '../time/index.js';
import type { PowerSpans } from './powerSpans.js';
import { dayKindAt, WEEKENDS, type Closing, type DayKind } from './workdays.js';

/** Days as rows, and how the site's clock goes over them. */
export interface ProfileCalendar {
  days: readonly TimeSpan[];
  minuteOfDay: (t: number) => number;
  /** 1 is Monday. */
  weekday: (t: number) => number;
  dayKind: (t: number) => DayKind;
  closing: Closing;
}

/** The days that spans touch, by the clock of a zone. @throws CalendarError */
export function profileCalendar(
  zone: string,
  { start, step, length }: PowerSpans,
  closing: Closing = WEEKENDS,
): ProfileCalendar {
  const borders = length === 0 ? [] : calendarBorders(zone, start, start + length * step, 'day');
  return {
    days: borders.slice(1).map((end, i) => ({ start: borders[i] as number, end })),
    minuteOfDay: (t) => Number(siteClock(zone, t, 'H')) * 60 + Number(siteClock(zone, t, 'm')),
    weekday: (t) => Number(siteClock(zone, t, 'c')),
    dayKind: (t) => dayKindAt(zone, t, closing),
    closing,
  };
}

/** The weeks from Monday of a calendar's days; of one that is cut off by its ends only what there is of it. */
export function weeksOf({ days, weekday }: ProfileCalendar): TimeSpan[] {
  const weeks: TimeSpan[] = [];
  for (const { start, end } of days) {
    const week = weeks.at(-1);
    if (week && weekday(start) !== 1) week.end = end;
    else weeks.push({ start, end });
  }
  return weeks;
}
