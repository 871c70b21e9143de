import type { PlaceProfile } from '@loka/contract/profile';
import { emptySpans, profileCalendar, profileOf } from '@loka/core/profile';
import { daySays } from './daySays.js';
import { textOf } from './parts.js';

const START = Date.parse('2026-11-02T00:00Z');

/** Fourteen days from a Monday, by the minute. */
function profile(watts: (day: number, minute: number) => number): PlaceProfile {
  const spans = emptySpans(START, 60_000, 14 * 1440);
  for (let i = 0; i < spans.length; i++)
    for (const c of [spans.mean, spans.min, spans.max, spans.last])
      c[i] = watts(Math.floor(i / 1440), i % 1440);
  const { carpet, ...found } = profileOf(spans, profileCalendar('UTC', spans));
  return {
    ...found,
    nodeId: 1,
    source: 'power',
    summed: null,
    without: [],
    carpet: { ...carpet, watts: [...carpet.watts] },
  };
}
const usual = (m: number) => (m >= 480 && m < 960 ? 500 : 100);
const said = (p: PlaceProfile, row: number) => daySays(p, row, 'working', 'UTC').map(textOf);

it('a day on which two hours were unusual, and one that was not', () => {
  const all = profile((d, m) => (d === 3 && m >= 1200 && m < 1320 ? 1100 : usual(m)));
  expect(said(all, 3)).toEqual([
    'Thu 5 Nov took 7.60 kWh, 2.00 kWh more than usual. (the median of 9 other working days in the same hours)',
    '20:00 to 22:00: 1.00 kW above what is usual, 2.00 kWh more. (above the highest that nine tenths of those days take then)',
  ]);
  expect(said(all, 4)[0]).toContain('took 5.60 kWh, as much as usual.');
  expect(said(all, 4)[1]).toMatch(/^It went as usual all day\./);
});

it('what gives, and a kind of which there are too few', () => {
  const roof = profile((d, m) => (m >= 480 && m < 960 ? (d === 8 ? -500 : -1000) : 0));
  expect(said(roof, 8)[0]).toMatch(/^Tue 10 Nov gave 4\.00 kWh, 4\.00 kWh less than usual\./);
  expect(daySays(roof, 5, 'closed', 'UTC')).toEqual([]);
  expect(daySays(roof, 99, 'working', 'UTC')).toEqual([]);
});
