import { dayKindAt, profileCalendar, profileOf, emptySpans, WEEKENDS } from './index.js';

const at = (iso: string) => Date.parse(iso);

// The days of the week are the calendar's: 25 December 2026 is a Friday, 2 November 2026 a Monday.
it('a holiday is one on whichever day it falls; else the day of the week tells', () => {
  const bakery = { closedDays: [1], holidays: ['2026-12-25', '2026-11-02'] };
  expect(dayKindAt('UTC', at('2026-12-25T12:00Z'), bakery)).toBe('holiday');
  expect(dayKindAt('UTC', at('2026-12-26T12:00Z'), bakery)).toBe('working');
  expect(dayKindAt('UTC', at('2026-11-02T12:00Z'), bakery)).toBe('holiday');
  expect(dayKindAt('UTC', at('2026-11-09T12:00Z'), bakery)).toBe('closed');
  expect(dayKindAt('UTC', at('2026-12-26T12:00Z'), WEEKENDS)).toBe('closed');
});

it('a day begins at the site’s midnight', () => {
  const holiday = { closedDays: [], holidays: ['2026-12-25'] };
  // Auckland is 13 h ahead in December.
  expect(dayKindAt('Pacific/Auckland', at('2026-12-24T11:00Z'), holiday)).toBe('holiday');
  expect(dayKindAt('Pacific/Auckland', at('2026-12-24T10:59Z'), holiday)).toBe('working');
});

it('a profile sorts its days by the site’s, and a month has as many working days as its weeks', () => {
  const spans = emptySpans(at('2026-11-02T00:00Z'), 60_000, 14 * 1440);
  const closing = { closedDays: [1], holidays: ['2026-11-04'] };
  const calendar = profileCalendar('UTC', spans, closing);
  // 100 W, on Mondays and the holiday nothing.
  for (let i = 0; i < spans.length; i++)
    spans.mean[i] = calendar.dayKind(spans.start + i * 60_000) === 'working' ? 100 : 0;
  const found = profileOf(spans, calendar);
  expect(found.dayTypes.map(({ name, rows }) => [name, rows])).toEqual([
    ['working', [1, 3, 4, 5, 6, 8, 9, 10, 11, 12, 13]],
    ['closed', [0, 7]],
    ['holiday', [2]],
  ]);
  // 30.4375 days, six of seven of them 2.4 kWh.
  expect(found.month?.energy).toBeCloseTo(30.4375 * (6 / 7) * 2400, 3);
});
