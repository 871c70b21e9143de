import { DateTime, IANAZone } from 'luxon';

/** A span of time, UTC milliseconds: start belongs to it, end does not. */
export interface TimeSpan {
  start: number;
  end: number;
}

/** Thrown for a zone or a date that does not exist. */
export class CalendarError extends Error {
  override name = 'CalendarError';
}

const MINUTE = 60_000;
const QUARTER = 15 * MINUTE;
const HOUR = 60 * MINUTE;
/** Longer than any zone is ahead of or behind UTC. */
const FARTHEST = 27 * HOUR;

const inZone = (zone: string, t: number): DateTime<true> => {
  const time = DateTime.fromMillis(t, { zone });
  if (!time.isValid)
    throw new CalendarError(`“${zone}” is not a time zone; use a name such as Europe/Lisbon`);
  return time as DateTime<true>;
};

/** Whether the zone is one that the IANA database knows. */
export const isTimeZone = (zone: string): boolean => DateTime.fromMillis(0, { zone }).isValid;

const zones = new Map<string, IANAZone>();
function zoneNamed(name: string): IANAZone {
  const known = zones.get(name);
  if (known) return known;
  if (!isTimeZone(name))
    throw new CalendarError(`“${name}” is not a time zone; use a name such as Europe/Lisbon`);
  const zone = IANAZone.create(name);
  zones.set(name, zone);
  return zone;
}

/** Milliseconds that the zone's clocks are ahead of UTC at t. */
const offsetAt = (zone: IANAZone, t: number): number => zone.offset(t) * MINUTE;

/** Days since 1970-01-01 of an instant's local date. */
const localDay = (zone: IANAZone, t: number): number => Math.floor((t + offsetAt(zone, t)) / (24 * HOUR));

const starts = new Map<string, number>();

/**
 * When a day begins: the first instant whose local date is that of the day or a later one, so that each instant belongs
 * to exactly one day, also where clocks are set back over midnight and the date runs backwards for an hour, or where a
 * date does not exist (it then begins where the next one does, and is empty). All zones change by quarters of an hour.
 * @param day days since 1970-01-01
 */
function startOfDay(zone: IANAZone, day: number): number {
  const key = `${zone.name} ${day}`;
  const known = starts.get(key);
  if (known !== undefined) return known;
  const utc = day * 24 * HOUR;
  const offsets = [utc - FARTHEST, utc, utc + FARTHEST].map((t) => offsetAt(zone, t));
  const early = offsets[0] as number;
  let start = utc - early;
  // Where the offset does not change around it, midnight is all there is to know.
  if (offsets.some((offset) => offset !== early)) {
    // Before that no clock of the zone shows the day yet.
    start = Math.floor((utc - Math.max(...offsets)) / QUARTER) * QUARTER;
    while (localDay(zone, start) < day) start += QUARTER;
  }
  if (starts.size > 50_000) starts.clear();
  starts.set(key, start);
  return start;
}

/** The day that holds t: the last one that has begun. */
function dayHolding(zone: IANAZone, t: number): number {
  let day = localDay(zone, t);
  while (startOfDay(zone, day + 1) <= t) day++;
  while (startOfDay(zone, day) > t) day--;
  return day;
}

/**
 * The site's calendar day that holds t; `daysBefore` steps back over calendar days. Days begin at the first
 * instant that carries their date, which need not be 00:00, and may have 23, 24, 25 or other hours.
 * @throws CalendarError
 */
export function siteDay(zone: string, t: number, daysBefore = 0): TimeSpan {
  const named = zoneNamed(zone);
  const day = dayHolding(named, t) - daysBefore;
  return { start: startOfDay(named, day), end: startOfDay(named, day + 1) };
}

/**
 * The instant of a day at which the site's clock shows a time; where the clock goes past it, as much later; where it comes twice, the first.
 * @param day an instant of the day; @param minute after midnight, by the clock; @throws CalendarError
 */
export const timeOfDay = (zone: string, day: number, minute: number): number =>
  inZone(zone, day)
    .set({
      hour: Math.floor(minute / 60),
      minute: Math.floor(minute % 60),
      second: Math.round((minute % 1) * 60),
      millisecond: 0,
    })
    .toMillis();

/** The calendar day with the given ISO date; empty (end = start) where the zone skipped it. @throws CalendarError */
export function dayOf(zone: string, isoDate: string): TimeSpan {
  const named = zoneNamed(zone);
  const date = DateTime.fromISO(isoDate, { zone: 'utc' });
  if (!date.isValid || !/^\d{4}-\d{2}-\d{2}$/.test(isoDate))
    throw new CalendarError(`${isoDate} in ${zone} is not a date`);
  const day = date.toMillis() / (24 * HOUR);
  return { start: startOfDay(named, day), end: startOfDay(named, day + 1) };
}

/** How long the parts of a calendar are. */
export const CALENDAR_STEPS = ['quarter', 'hour', 'day', 'month'] as const;
export type CalendarStep = (typeof CALENDAR_STEPS)[number];

/**
 * The parts of [from, to) by the site's calendar: their borders, ascending, the first one not after `from` and the last
 * one not before `to`. Quarters and hours are those of the running time, counted from the day's start, so that an hour
 * that happens twice is two; days and months are the site's.
 * @throws CalendarError
 */
export function calendarBorders(zone: string, from: number, to: number, step: CalendarStep): number[] {
  const named = zoneNamed(zone);
  const borders: number[] = [];
  const push = (t: number) => {
    if (t !== borders.at(-1)) borders.push(t);
  };
  if (step === 'month') {
    let { year, month } = DateTime.fromMillis(dayHolding(named, from) * 24 * HOUR, { zone: 'utc' });
    for (;;) {
      push(startOfDay(named, Date.UTC(year, month - 1, 1) / (24 * HOUR)));
      if ((borders.at(-1) as number) >= to) return borders;
      [year, month] = month === 12 ? [year + 1, 1] : [year, month + 1];
    }
  }
  const length = step === 'quarter' ? QUARTER : HOUR;
  for (let day = dayHolding(named, from); ; day++) {
    const start = startOfDay(named, day);
    const end = startOfDay(named, day + 1);
    if (step === 'day') push(start);
    else for (let t = start; t < end; t += length) if (t + length > from && t < to) push(t);
    if (end >= to) {
      const last = borders.at(-1);
      push(step === 'day' || last === undefined ? end : Math.min(last + length, end));
      return borders;
    }
  }
}

/** ISO 8601 with the site's offset at that instant, e.g. 2024-10-27T01:30:00.000+00:00. @throws CalendarError */
export const isoWithOffset = (zone: string, t: number): string =>
  inZone(zone, t)
    .toISO({ suppressMilliseconds: false, includeOffset: true, format: 'extended' })
    .replace(/Z$/, '+00:00');

/** The same time of day so many calendar months later; at a month's end its last day. @throws CalendarError */
export const monthsAfter = (zone: string, t: number, months: number): number =>
  inZone(zone, t).plus({ months }).toMillis();

/** Instant in words of the site's clock by a luxon format, e.g. 'HH:mm'. @throws CalendarError */
export const siteClock = (zone: string, t: number, format: string): string =>
  inZone(zone, t).toFormat(format, { locale: 'en-GB' });

/** UTC milliseconds of a local date and time such as 2026-11-03T11:20, read by the site's clock. @throws CalendarError */
export function fromSiteClock(zone: string, local: string): number {
  const time = DateTime.fromISO(local, { zone });
  if (!time.isValid)
    throw new CalendarError(
      local === '' ? 'Enter a date and a time.' : `“${local}” is not a date and time; write 2026-11-03T11:20`,
    );
  return time.toMillis();
}
