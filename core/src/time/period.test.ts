import fc from 'fast-check';
import { dayOf, isoWithOffset, siteClock, siteDay } from './days.js';
import { NAMED_PERIODS, periodSpan } from './period.js';

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
