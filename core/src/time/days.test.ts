import {
  CALENDAR_STEPS,
  calendarBorders,
  CalendarError,
  dayOf,
  fromSiteClock,
  isoWithOffset,
  siteClock,
  siteDay,
  timeOfDay,
} from './days.js';
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

describe('days of every zone that the runtime knows, 2005 to 2035', () => {
  const HOUR = 3_600_000;
  const QUARTER = 900_000;
  const DAY = 24 * HOUR;
  const [FIRST, LAST] = [Date.parse('2005-01-01T00:00:00Z'), Date.parse('2035-12-31T00:00:00Z')];
  const clocks = new Map<string, Intl.DateTimeFormat>();
  /** Local time as if it were UTC, by the runtime's own zone data and by no library. */
  function localOf(zone: string, t: number): number {
    let clock = clocks.get(zone);
    if (!clock) {
      const numeric = {
        year: 'numeric',
        month: '2-digit',
        day: '2-digit',
        hour: '2-digit',
        minute: '2-digit',
      } as const;
      clock = new Intl.DateTimeFormat('en-CA', { timeZone: zone, hourCycle: 'h23', ...numeric });
      clocks.set(zone, clock);
    }
    const [year, month, day, hour, minute] = (clock.format(t).match(/\d+/g) as string[]).map(Number) as [
      number,
      number,
      number,
      number,
      number,
    ];
    return Date.UTC(year, month - 1, day, hour, minute);
  }
  const offsetOf = (zone: string, t: number) => localOf(zone, t) - t;
  /** Nowhere are clocks set and set back within a fortnight. */
  const FORTNIGHT = 14 * DAY;
  const fortnights = Array.from(
    { length: Math.floor((LAST - FIRST) / FORTNIGHT) },
    (_, i) => FIRST + i * FORTNIGHT,
  );
  /** The instants at which a zone's offset changes, to the quarter of an hour. @param offsets at each fortnight */
  function changesOf(zone: string, offsets: readonly number[]): number[] {
    return fortnights.flatMap((t, i) => {
      if (i + 1 >= offsets.length || offsets[i] === offsets[i + 1]) return [];
      let [low, high] = [t, t + FORTNIGHT];
      while (high - low > QUARTER) {
        const middle = low + Math.round((high - low) / 2 / QUARTER) * QUARTER;
        if (offsetOf(zone, middle) === offsets[i]) low = middle;
        else high = middle;
      }
      return [high];
    });
  }
  const fromMidnight = (local: number): number => {
    const into = ((local % DAY) + DAY) % DAY;
    return Math.min(into, DAY - into);
  };

  it('each instant belongs to exactly one day, which begins at the first instant that carries its date or a later one', () => {
    const zones = Intl.supportedValuesOf('timeZone');
    expect(zones.length).toBeGreaterThan(400);
    const seen = new Set<string>();
    let [checked, backwards] = [0, 0];
    for (const zone of zones) {
      const offsets = fortnights.map((t) => offsetOf(zone, t));
      // Zones with the same clock are looked at once.
      const key = offsets.join(' ');
      if (seen.has(key)) continue;
      seen.add(key);
      const changes = changesOf(zone, offsets);
      // Where a clock changes near midnight is what goes wrong; of the others every twelfth year will do.
      const looked = changes.filter((t, i) => i % 24 === 0 || fromMidnight(localOf(zone, t)) <= 2 * HOUR);
      for (const change of [...looked, FIRST + 200 * DAY]) {
        // Every quarter of an hour around the change, every two hours around that.
        const grid: { t: number; date: number }[] = [];
        for (let t = change - 30 * HOUR; t < change + 30 * HOUR;) {
          grid.push({ t, date: Math.floor(localOf(zone, t) / DAY) });
          t += Math.abs(t - change) <= 2 * HOUR ? QUARTER : 2 * HOUR;
        }
        if (grid.some(({ date }, i) => i > 0 && date < (grid[i - 1] as { date: number }).date)) backwards++;
        let greatest = grid[0]?.date as number;
        for (const { t, date } of grid) {
          greatest = Math.max(greatest, date);
          // By the rule: the latest date that has been reached so far.
          const day = dayOf(zone, new Date(greatest * DAY).toISOString().slice(0, 10));
          if (t < day.start || t >= day.end)
            throw new Error(`${zone} ${new Date(t).toISOString()} is not in its day`);
          const own = siteDay(zone, t);
          if (own.start !== day.start || own.end !== day.end)
            throw new Error(`${zone} ${new Date(t).toISOString()} is in another day`);
          if (day.start % QUARTER !== 0) throw new Error(`${zone}: a day that begins at ${day.start}`);
          checked++;
        }
      }
    }
    expect(checked).toBeGreaterThan(20_000);
    // Among them clocks that go back over midnight, so that the date runs backwards for an hour.
    expect(backwards).toBeGreaterThan(5);
  }, 300_000);
});

describe('parts of the calendar', () => {
  it('hours of a day of 25 are 25, and the one that happens twice is two', () => {
    const { start, end } = dayOf('Europe/Lisbon', '2025-10-26');
    const borders = calendarBorders('Europe/Lisbon', start, end, 'hour');
    expect(borders).toHaveLength(26);
    expect(borders.map((t) => siteClock('Europe/Lisbon', t, 'HH')).slice(0, 4)).toEqual([
      '00',
      '01',
      '01',
      '02',
    ]);
  });
  it('days and months are the site’s, also where they are not of 24 hours', () => {
    const [from, to] = [
      dayOf('Europe/Lisbon', '2025-10-25').start,
      dayOf('Europe/Lisbon', '2025-10-28').start,
    ];
    const hours = calendarBorders('Europe/Lisbon', from, to, 'day').map((t) => (t - from) / 3_600_000);
    expect(hours).toEqual([0, 24, 49, 73]);
    const year = calendarBorders(
      'Asia/Kathmandu',
      dayOf('Asia/Kathmandu', '2025-01-01').start,
      dayOf('Asia/Kathmandu', '2026-01-01').start,
      'month',
    );
    expect(year).toHaveLength(13);
    expect(year.every((t) => siteClock('Asia/Kathmandu', t, 'd HH:mm') === '1 00:00')).toBe(true);
  });
  it('a period that begins and ends anywhere lies within its borders', () => {
    const [from, to] = [Date.parse('2026-03-28T22:17:00Z'), Date.parse('2026-03-29T03:02:00Z')];
    for (const step of CALENDAR_STEPS) {
      const borders = calendarBorders('Europe/Lisbon', from, to, step);
      expect(borders[0]).toBeLessThanOrEqual(from);
      expect(borders.at(-1)).toBeGreaterThanOrEqual(to);
      expect(borders[1]).toBeGreaterThan(from);
      expect(borders.at(-2)).toBeLessThan(to);
    }
  });
});

// Clocks of London: 31 March 2024 from 01:00 to 02:00, 27 October 2024 from 02:00 back to 01:00.
it.each([
  ['2024-10-26', 630, '2024-10-26T09:30:00Z'],
  ['2024-03-31', 90, '2024-03-31T01:30:00Z'],
  ['2024-03-31', 600, '2024-03-31T09:00:00Z'],
  ['2024-10-27', 90, '2024-10-27T00:30:00Z'],
  ['2024-10-27', 180, '2024-10-27T03:00:00Z'],
  ['2024-07-01', 7.5, '2024-06-30T23:07:30Z'],
])('on %s minute %d of the clock is %s', (date, minute, instant) =>
  expect(new Date(timeOfDay('Europe/London', dayOf('Europe/London', date).start, minute)).toISOString()).toBe(
    instant.replace('Z', '.000Z'),
  ),
);
