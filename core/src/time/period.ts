import { dayOf, siteDay, type TimeSpan } from './days.js';

/** Periods that one chooses by name; a single date (YYYY-MM-DD) is a period too. */
export const NAMED_PERIODS = ['hour', 'today', 'yesterday', '7-days', '30-days'] as const;
export type NamedPeriod = (typeof NAMED_PERIODS)[number];

/** The span of a named period or of a date at instant `now`, by the site's days. @throws CalendarError */
export function periodSpan(zone: string, period: string, now: number): TimeSpan {
  switch (period) {
    case 'hour':
      return { start: now - 3_600_000, end: now };
    case 'today':
      return siteDay(zone, now);
    case 'yesterday':
      return siteDay(zone, now, 1);
    case '7-days':
      return { start: siteDay(zone, now, 6).start, end: siteDay(zone, now).end };
    case '30-days':
      return { start: siteDay(zone, now, 29).start, end: siteDay(zone, now).end };
    default:
      return dayOf(zone, period);
  }
}
