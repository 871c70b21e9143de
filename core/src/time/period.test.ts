import fc from 'fast-check';
import { dayOf, isoWithOffset, siteClock, siteDay } from './days.js';
import {
  BESIDES,
  besideOf,
  fixedText,
  NAMED_PERIODS,
  neighbourText,
  periodOf,
  periodSpan,
  stepped,
  textOfSpan,
} from './period.js';
import { CalendarError } from './days.js';

const ZONES = [
  'Europe/Lisbon',
  'America/New_York',
  'Australia/Lord_Howe',
  'Asia/Kathmandu',
  'Africa/Cairo',
  'Pacific/Chatham',
  'UTC',
];
const instant = fc.integer({ min: Date.parse('2005-01-01'), max: Date.parse('2030-01-01') });

it.each(ZONES)('days of %s follow one another without gap or overlap, whatever the clock does', (zone) => {
  fc.assert(
    fc.property(instant, (t) => {
      const day = siteDay(zone, t);
      expect(day.start).toBeLessThanOrEqual(t);
      expect(day.end).toBeGreaterThan(t);
      expect(siteDay(zone, day.end).start).toBe(day.end);
      expect(siteDay(zone, t, 1).end).toBe(day.start);
      expect(dayOf(zone, siteClock(zone, t, 'yyyy-MM-dd'))).toEqual(day);
    }),
    { numRuns: 60 },
  );
});
it('an instant written with its offset is the same instant when read', () => {
  fc.assert(
    fc.property(fc.constantFrom(...ZONES), instant, (zone, t) =>
      expect(Date.parse(isoWithOffset(zone, t))).toBe(t),
    ),
  );
});
it('every named period ends after it starts, and holds now or lies before it', () => {
  const now = Date.parse('2026-03-29T12:00:00Z'); // the clock went forward in the night
  for (const name of NAMED_PERIODS) {
    const { start, end } = periodSpan('Europe/Lisbon', name, now);
    expect(end).toBeGreaterThan(start);
    expect(start).toBeLessThanOrEqual(now);
  }
  expect(
    (periodSpan('Europe/Lisbon', 'today', now).end - periodSpan('Europe/Lisbon', 'today', now).start) /
      3_600_000,
  ).toBe(23);
  expect(
    (periodSpan('Europe/Lisbon', '7-days', now).end - periodSpan('Europe/Lisbon', '7-days', now).start) /
      3_600_000,
  ).toBe(7 * 24 - 1);
  expect(periodSpan('Europe/Lisbon', '2026-03-28', now)).toEqual(
    periodSpan('Europe/Lisbon', 'yesterday', now),
  );
});

const LISBON = 'Europe/Lisbon';
const iso = (t: number) => new Date(t).toISOString().replace('.000', '');
const spanOf = (text: string, now = Date.parse('2026-11-26T14:04:00Z'), zone = LISBON) => {
  const { start, end } = periodSpan(zone, text, now);
  return [iso(start), iso(end)];
};

// By the calendar (ISO 8601 weeks begin on Monday, and the week with the year's first Thursday is the first).
it.each([
  ['2026-W01', '2025-12-29T00:00:00Z', '2026-01-05T00:00:00Z'],
  ['2026-W48', '2026-11-23T00:00:00Z', '2026-11-30T00:00:00Z'],
  ['2024-02', '2024-02-01T00:00:00Z', '2024-03-01T00:00:00Z'],
  ['2026-10', '2026-09-30T23:00:00Z', '2026-11-01T00:00:00Z'],
  ['2024', '2024-01-01T00:00:00Z', '2025-01-01T00:00:00Z'],
  ['2026-10-24..2026-10-25', '2026-10-23T23:00:00Z', '2026-10-26T00:00:00Z'],
  ['20261103T112000Z..20261103T120000.250Z', '2026-11-03T11:20:00Z', '2026-11-03T12:00:00.250Z'],
  ['week', '2026-11-23T00:00:00Z', '2026-11-30T00:00:00Z'],
  ['month', '2026-11-01T00:00:00Z', '2026-12-01T00:00:00Z'],
  ['year', '2026-01-01T00:00:00Z', '2027-01-01T00:00:00Z'],
  ['24-hours', '2026-11-25T14:04:00Z', '2026-11-26T14:04:00Z'],
])('%s is from %s to %s', (text, start, end) => expect(spanOf(text)).toEqual([start, end]));

it.each([
  'soon',
  '2026-13',
  '2026-02-30',
  '2026-W60',
  '2026-11-09..2026-11-03',
  '20261103T120000Z..20261103T112000Z',
  '20261303T120000Z..20271103T112000Z',
  '',
])('refuses “%s”', (text) => expect(() => periodOf(LISBON, text, 0)).toThrow(CalendarError));

it('goes to the period before and after by the calendar, over the change of the clock and leap days', () => {
  const now = Date.parse('2026-10-25T12:00:00Z');
  expect(neighbourText(LISBON, 'today', now, -1)).toBe('2026-10-24');
  expect(neighbourText(LISBON, '2026-W01', now, -1)).toBe('2025-W52');
  expect(neighbourText(LISBON, '2024-03', now, -1)).toBe('2024-02');
  expect(neighbourText(LISBON, '2024', now, 1)).toBe('2025');
  expect(neighbourText(LISBON, '7-days', now, -1)).toBe('2026-10-12..2026-10-18');
  expect(neighbourText(LISBON, '2024-02-28..2024-02-29', now, 1)).toBe('2024-03-01..2024-03-02');
  expect(neighbourText(LISBON, 'hour', now, -1)).toBe('20261025T100000Z..20261025T110000Z');
});

it('every period and its neighbours meet without gap or overlap, in every zone; back and forward is the same one', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...ZONES),
      instant,
      fc.constantFrom('today', 'week', 'month', 'year', '7-days', 'hour'),
      (zone, t, name) => {
        const now = Math.floor(t / 1000) * 1000;
        const fixed = fixedText(zone, name, now);
        const span = periodSpan(zone, name, now);
        expect(periodSpan(zone, fixed, 0)).toEqual(span);
        const before = neighbourText(zone, fixed, now, -1);
        expect(periodSpan(zone, before, now).end).toBe(span.start);
        expect(neighbourText(zone, before, now, 1)).toBe(fixed);
      },
    ),
    { numRuns: 300 },
  );
});

it('two instants are written and read again to the millisecond; whole days as days', () => {
  const [start, end] = [Date.parse('2026-03-29T00:59:59.001Z'), Date.parse('2026-03-29T03:00:00Z')];
  expect(periodSpan(LISBON, textOfSpan(LISBON, { start, end }), 0)).toEqual({ start, end });
  expect(textOfSpan(LISBON, dayOf(LISBON, '2026-03-29'))).toBe('2026-03-29');
});

describe('a period beside another', () => {
  const beside = (text: string, how: (typeof BESIDES)[number], at: string, zone = LISBON) => {
    const { span, until } = besideOf(zone, text, Date.parse(at), how);
    return [iso(span.start), iso(span.end), iso(until)];
  };
  it('is compared as far as the other has come', () => {
    expect(beside('today', 'before', '2026-11-26T14:04:00Z')).toEqual([
      '2026-11-25T00:00:00Z',
      '2026-11-26T00:00:00Z',
      '2026-11-25T14:04:00Z',
    ]);
    expect(beside('today', 'weekday', '2026-11-26T14:04:00Z')).toEqual([
      '2026-11-19T00:00:00Z',
      '2026-11-20T00:00:00Z',
      '2026-11-19T14:04:00Z',
    ]);
    expect(beside('2026-11', 'year', '2026-12-05T00:00:00Z')).toEqual([
      '2025-11-01T00:00:00Z',
      '2025-12-01T00:00:00Z',
      '2025-12-01T00:00:00Z',
    ]);
  });
  it('goes by the clock over days of 23 and 25 hours', () => {
    // Lisbon: clocks go back on 25 October 2026 at 02:00 (IANA).
    expect(beside('2026-10-25', 'before', '2026-10-25T13:00:00Z')).toEqual([
      '2026-10-23T23:00:00Z',
      '2026-10-24T23:00:00Z',
      '2026-10-24T12:00:00Z',
    ]);
    expect(beside('2026-10-26', 'before', '2026-10-27T00:00:00Z')).toEqual([
      '2026-10-24T23:00:00Z',
      '2026-10-26T00:00:00Z',
      '2026-10-26T00:00:00Z',
    ]);
  });
  // By the calendar: a period, how it is set beside another, and from when to when that is.
  it.each([
    ['2024-02', 'year', '2023-02-01', '2023-03-01'],
    ['2024-02-28', 'year', '2023-02-28', '2023-03-01'],
    ['2024-02-29', 'year', '2023-02-28', '2023-03-01'],
    ['2025-02', 'year', '2024-02-01', '2024-03-01'],
    ['2024', 'before', '2023-01-01', '2024-01-01'],
  ] as const)('knows leap years: %s, %s, is from %s to %s', (text, how, start, end) => {
    const [from, to] = beside(text, how, '2026-01-01T00:00:00Z');
    expect([from, to]).toEqual([`${start}T00:00:00Z`, `${end}T00:00:00Z`]);
  });
  it('is compared as far as the other one has come in a leap year as well', () => {
    expect(beside('2024-02', 'year', '2024-02-29T18:00:00Z')[2]).toBe('2023-02-28T18:00:00Z');
    expect(beside('2024-02-28', 'year', '2024-02-28T18:00:00Z')[2]).toBe('2023-02-28T18:00:00Z');
    expect(beside('2026-03', 'before', '2026-03-31T12:00:00Z')[2]).toBe('2026-02-28T13:00:00Z');
  });
  it('of 29 February lies alongside it, and what comes after it where it belongs', () => {
    const alongside = (text: string, at: string) =>
      iso(besideOf(LISBON, text, Date.parse('2025-01-01'), 'year').alongside(Date.parse(at)));
    expect(alongside('2024-02-29', '2023-02-28T15:00:00Z')).toBe('2024-02-29T15:00:00Z');
    expect(alongside('2024-02-29..2024-03-02', '2023-03-01T15:00:00Z')).toBe('2024-03-01T15:00:00Z');
    expect(alongside('2024-02', '2023-02-28T15:00:00Z')).toBe('2024-02-28T15:00:00Z');
  });
  it('takes weekdays for weekdays: a month is set beside five weeks before', () => {
    const { span } = besideOf(LISBON, '2026-11', Date.parse('2026-12-01T00:00:00Z'), 'weekday');
    const weekday = (t: number) => siteClock(LISBON, t, 'ccc');
    expect(weekday(span.start)).toBe(weekday(Date.parse('2026-11-01T12:00:00Z')));
    expect(siteClock(LISBON, span.start, 'yyyy-MM-dd')).toBe('2026-09-27');
  });
  it('lies alongside: an instant goes back and comes again, but for hours that the clock leaves out or repeats', () => {
    fc.assert(
      fc.property(fc.constantFrom(...ZONES), instant, fc.constantFrom(...BESIDES), (zone, now, how) => {
        const { span, alongside } = besideOf(zone, 'today', now, how);
        const chosen = periodSpan(zone, 'today', now);
        expect(span.end).toBeGreaterThan(span.start);
        const there = span.start + (span.end - span.start) * 0.6;
        expect(alongside(there)).toBeGreaterThan(chosen.start);
        expect(alongside(there)).toBeLessThan(chosen.end);
        const clock = siteClock(zone, there, 'HH:mm');
        expect([clock, siteClock(zone, there + 3_600_000, 'HH:mm')]).toContain(
          siteClock(zone, alongside(there), 'HH:mm'),
        );
      }),
      { numRuns: 300 },
    );
  });
  it('is never empty, whichever day of whichever year', () => {
    for (let day = Date.UTC(2023, 11, 1, 12); day < Date.UTC(2025, 2, 1); day += 86_400_000)
      for (const how of BESIDES) {
        const { span } = besideOf(LISBON, 'today', day, how);
        expect((span.end - span.start) / 3_600_000).toBeGreaterThanOrEqual(23);
      }
  });
  it('steps by running time where the period is one of running time', () => {
    expect(stepped(LISBON, 1000, { ms: 10 }, -3)).toBe(970);
    expect(beside('hour', 'before', '2026-10-25T02:00:00Z').slice(0, 2)).toEqual([
      '2026-10-25T00:00:00Z',
      '2026-10-25T01:00:00Z',
    ]);
  });
});
