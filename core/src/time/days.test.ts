import { CalendarError, dayOf, fromSiteClock, isoWithOffset, siteDay } from './days.js';
import { periodSpan } from './period.js';

// IANA time zone database; lengths from CHECKS.md.
it.each([
  ['Europe/London', '2024-10-27', 1500],
  ['Europe/London', '2000-03-26', 1380],
  ['America/New_York', '2024-03-10', 1380],
  ['Australia/Lord_Howe', '2024-04-07', 1470],
  ['Australia/Lord_Howe', '2024-10-06', 1410],
  ['Africa/Cairo', '2024-04-26', 1380],
  ['Pacific/Apia', '2011-12-30', 0],
  ['Europe/Lisbon', '2026-11-24', 1440],
])('%s %s lasts %i minutes', (zone, date, minutes) => {
  const { start, end } = dayOf(zone, date);
  expect((end - start) / 60_000).toBe(minutes);
});
it('a day that begins at 01:00 begins at 01:00', () => {
  expect(isoWithOffset('Africa/Cairo', dayOf('Africa/Cairo', '2024-04-26').start)).toBe(
    '2024-04-26T01:00:00.000+03:00',
  );
});
it('yesterday is the calendar day before, over the change of the clock', () => {
  const noon = Date.parse('2024-10-28T12:00:00Z');
  const { start, end } = siteDay('Europe/Lisbon', noon, 1);
  expect([new Date(start).toISOString(), (end - start) / 3_600_000]).toEqual([
    '2024-10-26T23:00:00.000Z',
    25,
  ]);
  expect(periodSpan('Europe/Lisbon', 'yesterday', noon)).toEqual({ start, end });
});
it('writes instants with the site’s offset and reads the site’s clock', () => {
  expect(isoWithOffset('Europe/Lisbon', Date.parse('2024-07-01T12:00:00Z'))).toBe(
    '2024-07-01T13:00:00.000+01:00',
  );
  expect(isoWithOffset('Europe/Lisbon', Date.parse('2024-12-01T12:00:00Z'))).toBe(
    '2024-12-01T12:00:00.000+00:00',
  );
  expect(fromSiteClock('Europe/Lisbon', '2024-07-01T13:00')).toBe(Date.parse('2024-07-01T12:00:00Z'));
});
it('refuses what does not exist', () => {
  expect(() => siteDay('Europe/Brindlewick', 0)).toThrow(CalendarError);
  expect(() => fromSiteClock('Europe/Lisbon', 'soon')).toThrow('not a date');
});
