import { DateTime } from 'luxon';

/** A span of time, UTC milliseconds: start belongs to it, end does not. */
export interface TimeSpan {
  start: number;
  end: number;
}

/** Thrown for a zone or a date that does not exist. */
export class CalendarError extends Error {
  override name = 'CalendarError';
}

const inZone = (zone: string, t: number): DateTime<true> => {
  const time = DateTime.fromMillis(t, { zone });
  if (!time.isValid)
    throw new CalendarError(`“${zone}” is not a time zone; use a name such as Europe/Lisbon`);
  return time as DateTime<true>;
};

/** Whether the zone is one that the IANA database knows. */
export const isTimeZone = (zone: string): boolean => DateTime.fromMillis(0, { zone }).isValid;

/**
 * The site's calendar day that holds t; `daysBefore` steps back over calendar days. Days begin at the first
 * instant that carries their date, which need not be 00:00, and may have 23, 24, 25 or other hours.
 * @throws CalendarError
 */
export function siteDay(zone: string, t: number, daysBefore = 0): TimeSpan {
  const day = inZone(zone, t).startOf('day').minus({ days: daysBefore });
  return { start: firstInstant(day), end: firstInstant(day.plus({ days: 1 })) };
}

/** The calendar day with the given ISO date; empty (end = start) where the zone skipped it. @throws CalendarError */
export function dayOf(zone: string, isoDate: string): TimeSpan {
  const noon = DateTime.fromISO(`${isoDate}T12:00:00`, { zone });
  if (!noon.isValid) throw new CalendarError(`${isoDate} in ${zone} is not a date`);
  if (noon.toISODate() !== isoDate) return { start: noon.toMillis(), end: noon.toMillis() };
  return siteDay(zone, noon.toMillis());
}

const firstInstant = (day: DateTime): number => day.startOf('day').toMillis();

/** ISO 8601 with the site's offset at that instant, e.g. 2024-10-27T01:30:00.000+00:00. @throws CalendarError */
export const isoWithOffset = (zone: string, t: number): string =>
  inZone(zone, t)
    .toISO({ suppressMilliseconds: false, includeOffset: true, format: 'extended' })
    .replace(/Z$/, '+00:00');

/** Instant in words of the site's clock by a luxon format, e.g. 'HH:mm'. @throws CalendarError */
export const siteClock = (zone: string, t: number, format: string): string =>
  inZone(zone, t).toFormat(format, { locale: 'en-GB' });

/** UTC milliseconds of a local date and time such as 2026-11-03T11:20, read by the site's clock. @throws CalendarError */
export function fromSiteClock(zone: string, local: string): number {
  const time = DateTime.fromISO(local, { zone });
  if (!time.isValid) throw new CalendarError(`“${local}” is not a date and time; write 2026-11-03T11:20`);
  return time.toMillis();
}
