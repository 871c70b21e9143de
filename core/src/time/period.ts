import { DateTime } from 'luxon';
import { CalendarError, dayOf, siteClock, siteDay, type TimeSpan } from './days.js';

/** Periods that one chooses by name and that move on with the clock. */
export const NAMED_PERIODS = [
  'hour',
  '24-hours',
  'today',
  'yesterday',
  'week',
  'month',
  'year',
  '7-days',
  '30-days',
] as const;
export type NamedPeriod = (typeof NAMED_PERIODS)[number];

/** Lengths of the calendar. */
export type CalendarUnit = 'day' | 'week' | 'month' | 'year';

/** A step through time: by the calendar where one goes by days, else by the running time. */
export type TimeStep = { days: number } | { months: number } | { ms: number };

/** A chosen period at an instant. */
export interface Period {
  span: TimeSpan;
  /** From this period to the one before it. */
  step: TimeStep;
  /** What of the calendar it is; null for any two instants, or several days. */
  unit: CalendarUnit | null;
}

const HOUR = 3_600_000;
const UNIT_STEP: Record<CalendarUnit, TimeStep> = {
  day: { days: 1 },
  week: { days: 7 },
  month: { months: 1 },
  year: { months: 12 },
};

/** A date alone, without a zone: noon of nowhere. */
const date = (iso: string): DateTime => DateTime.fromISO(iso, { zone: 'utc' });
const isoDate = (at: DateTime): string => at.toFormat('yyyy-MM-dd');

/** From the first of some days up to, but without, the day `after`. */
function days(zone: string, first: DateTime, after: DateTime): TimeSpan {
  if (!first.isValid || !after.isValid) throw new CalendarError('that date does not exist');
  return { start: dayOf(zone, isoDate(first)).start, end: dayOf(zone, isoDate(after)).start };
}

function calendarPeriod(zone: string, within: DateTime, unit: CalendarUnit): Period {
  const first = within.startOf(unit);
  return { span: days(zone, first, first.plus({ [unit]: 1 })), step: UNIT_STEP[unit], unit };
}

const severalDays = (zone: string, first: DateTime, count: number): Period => ({
  span: days(zone, first, first.plus({ days: count })),
  step: { days: count },
  unit: count === 1 ? 'day' : null,
});

const instants = (start: number, end: number): Period => ({
  span: { start, end },
  step: { ms: end - start },
  unit: null,
});

const DATES = /^(\d{4}-\d{2}-\d{2})\.\.(\d{4}-\d{2}-\d{2})$/;
const INSTANTS = /^(\d{8}T\d{6}(?:\.\d{3})?Z)\.\.(\d{8}T\d{6}(?:\.\d{3})?Z)$/;

/**
 * The period that a text chooses: a name, or by ISO 8601 a day (2026-11-03), a week (2026-W45), a month (2026-11), a year
 * (2026), days from the first to the last (2026-11-03..2026-11-09), or two instants
 * (20261103T112000Z..20261103T120000Z). Days, weeks from Monday, months and years are the site's.
 * @param now UTC ms, for what moves on with the clock
 * @throws CalendarError
 */
export function periodOf(zone: string, text: string, now: number): Period {
  const today = date(siteClock(zone, siteDay(zone, now).start, 'yyyy-MM-dd'));
  switch (text) {
    case 'hour':
      return instants(now - HOUR, now);
    case '24-hours':
      return instants(now - 24 * HOUR, now);
    case 'today':
      return calendarPeriod(zone, today, 'day');
    case 'yesterday':
      return calendarPeriod(zone, today.minus({ days: 1 }), 'day');
    case 'week':
    case 'month':
    case 'year':
      return calendarPeriod(zone, today, text);
    case '7-days':
      return severalDays(zone, today.minus({ days: 6 }), 7);
    case '30-days':
      return severalDays(zone, today.minus({ days: 29 }), 30);
    default:
      return fixedPeriod(zone, text);
  }
}

function fixedPeriod(zone: string, text: string): Period {
  const [, first, last] = DATES.exec(text) ?? [];
  if (first && last) {
    const count = date(last).diff(date(first), 'days').days + 1;
    if (!(count >= 1)) throw new CalendarError(`“${text}” ends before it starts`);
    return severalDays(zone, date(first), count);
  }
  const [, from, to] = INSTANTS.exec(text) ?? [];
  if (from && to) {
    const [start, end] = [date(from), date(to)];
    if (!start.isValid || !end.isValid) throw new CalendarError(`“${text}” is not two instants`);
    if (!(end > start)) throw new CalendarError(`“${text}” ends before it starts`);
    return instants(start.toMillis(), end.toMillis());
  }
  const unit = UNITS.find(([form]) => form.test(text))?.[1];
  const within = date(text);
  if (!unit || !within.isValid) throw new CalendarError(`“${text}” is not a period`);
  return calendarPeriod(zone, within, unit);
}

const UNITS: readonly [RegExp, CalendarUnit][] = [
  [/^\d{4}-\d{2}-\d{2}$/, 'day'],
  [/^\d{4}-W\d{2}$/, 'week'],
  [/^\d{4}-\d{2}$/, 'month'],
  [/^\d{4}$/, 'year'],
];

/** The span of a period at instant `now`. @throws CalendarError */
export const periodSpan = (zone: string, text: string, now: number): TimeSpan =>
  periodOf(zone, text, now).span;

const FORMATS: Record<CalendarUnit, string> = {
  day: 'yyyy-MM-dd',
  week: "kkkk-'W'WW",
  month: 'yyyy-MM',
  year: 'yyyy',
};

/** The text of the calendar's period in which t lies. @throws CalendarError */
export const textOfUnit = (zone: string, t: number, unit: CalendarUnit): string =>
  date(siteClock(zone, siteDay(zone, t).start, 'yyyy-MM-dd')).toFormat(FORMATS[unit]);

/** The text of any two instants: of whole days where they are such. @throws CalendarError */
export function textOfSpan(zone: string, { start, end }: TimeSpan): string {
  const [first, after] = [siteDay(zone, start), siteDay(zone, end)];
  if (first.start === start && after.start === end && end > start) {
    const last = siteDay(zone, end - 1);
    const day = (t: number) => siteClock(zone, t, 'yyyy-MM-dd');
    return first.end === end ? day(start) : `${day(start)}..${day(last.start)}`;
  }
  const instant = (t: number) =>
    DateTime.fromMillis(Math.round(t), { zone: 'utc' }).toFormat(
      Math.round(t) % 1000 === 0 ? "yyyyMMdd'T'HHmmss'Z'" : "yyyyMMdd'T'HHmmss.SSS'Z'",
    );
  return `${instant(start)}..${instant(end)}`;
}

const textOf = (zone: string, { span, unit }: Period): string =>
  unit === null ? textOfSpan(zone, span) : textOfUnit(zone, span.start, unit);

/** The same stretch as a text that does not move on with the clock: what one passes on. @throws CalendarError */
export const fixedText = (zone: string, text: string, now: number): string =>
  textOf(zone, periodOf(zone, text, now));

/** The period before (−1) or after (+1) as a text. @throws CalendarError */
export function neighbourText(zone: string, text: string, now: number, direction: 1 | -1): string {
  const period = periodOf(zone, text, now);
  const { span, step, unit } = period;
  return textOf(zone, {
    unit,
    step,
    span: {
      start: stepped(zone, span.start, step, direction),
      end: stepped(zone, span.end, step, direction),
    },
  });
}

/**
 * An instant some steps away, at the same time of the site's clock; by months, at a month's end on its last day. The start
 * of a day goes to the start of a day, whenever that is.
 * @param times negative for back
 * @throws CalendarError
 */
export function stepped(zone: string, t: number, step: TimeStep, times: number): number {
  if ('ms' in step) return t + step.ms * times;
  const duration = 'days' in step ? { days: step.days * times } : { months: step.months * times };
  const day = siteDay(zone, t);
  const start = dayOf(zone, isoDate(date(siteClock(zone, day.start, 'yyyy-MM-dd')).plus(duration))).start;
  if (t === day.start) return start;
  const clock = DateTime.fromMillis(t, { zone }).plus(duration).toMillis();
  return Math.max(start, clock);
}

/** What a period can be set beside: the one before it, the same weekdays before, the same days a year before. */
export const BESIDES = ['before', 'weekday', 'year'] as const;
export type Beside = (typeof BESIDES)[number];

/** A period set beside another. */
export interface BesidePeriod {
  span: TimeSpan;
  /** Up to where it is compared: as far as the other one has come by now. */
  until: number;
  /** Where an instant of it is drawn in the other one. */
  alongside: (t: number) => number;
}

/** The period that is set beside the one chosen. @throws CalendarError */
export function besideOf(zone: string, text: string, now: number, beside: Beside): BesidePeriod {
  const { span, step } = periodOf(zone, text, now);
  const back: TimeStep =
    beside === 'before' ? step : beside === 'year' ? { months: 12 } : { days: 7 * weeksOf(span) };
  const then = (t: number) => stepped(zone, t, back, -1);
  const start = then(span.start);
  // Of a leap year's 28 February the end is the 29th, which the year before is the 28th: it ends with its last instant.
  const end = Math.max(then(span.end), 'months' in back ? then(span.end - 1) + 1 : start);
  const until = now >= span.end ? end : Math.min(end, Math.max(start, then(Math.max(now, span.start))));
  // Of 29 February: what lies beside it is 28 February, which by the calendar would come before it.
  const early = span.start - stepped(zone, start, back, 1);
  const alongside = (t: number) => {
    const there = stepped(zone, t, back, 1);
    return there < span.start ? there + early : there;
  };
  return { span: { start, end }, until, alongside };
}

/** Whole weeks that are not shorter than a span; a day of 25 hours is a day. */
const weeksOf = ({ start, end }: TimeSpan): number =>
  Math.max(1, Math.ceil((end - start - HOUR) / (168 * HOUR)));
