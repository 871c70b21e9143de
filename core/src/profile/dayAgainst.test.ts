import { carpetOf, dayAgainst, emptySpans, profileCalendar, type Carpet } from './index.js';

const MINUTE = 60_000;
const START = Date.parse('2026-06-01T00:00Z');

/** Ten days by the minute. @param watts by day and minute of the day */
function carpet(watts: (day: number, minute: number) => number): Carpet {
  const spans = emptySpans(START, MINUTE, 10 * 1440);
  for (let i = 0; i < spans.length; i++) spans.mean[i] = watts(Math.floor(i / 1440), i % 1440);
  const { days, minuteOfDay } = profileCalendar('UTC', spans);
  return carpetOf(spans, days, 7.5, minuteOfDay);
}
const rows = Array.from({ length: 10 }, (_, i) => i);
/** 100 W, from 08:00 to 16:00 500 to 590 W: 6.4 kWh and a little. */
const usual = (day: number, m: number) => (m >= 480 && m < 960 ? 500 + 10 * day : 100);

// By hand.
it('two hours above what the others do', () => {
  const found = dayAgainst(
    carpet((d, m) => (d === 4 && m >= 1200 && m < 1320 ? 1100 : usual(d, m))),
    4,
    rows,
  );
  expect(found?.stretches).toHaveLength(1);
  expect(found?.stretches[0]).toMatchObject({ from: 1200, to: 1320, above: true });
  // 1000 W above the 100 W that all others take then.
  expect(found?.stretches[0]?.watts).toBeCloseTo(1000, 6);
  expect(found?.stretches[0]?.energy).toBeCloseTo(2000, 6);
  // Of the nine others the median is that of 550 W: 8 · 550 + 16 · 100 Wh.
  expect(found).toMatchObject({ usual: 8 * 550 + 1600, energy: 8 * 540 + 1600 + 2000, days: 9 });
});

it('a day on which it did not run lies below', () => {
  const found = dayAgainst(
    carpet((d, m) => (d === 9 ? 100 : usual(d, m))),
    9,
    rows,
  );
  expect(found?.stretches).toHaveLength(1);
  expect(found?.stretches[0]).toMatchObject({ from: 480, to: 960, above: false });
  // The 5th percentile of 500 to 580 W by tens is 504 W.
  expect(found?.stretches[0]?.watts).toBeCloseTo(-404, 6);
});

it('a usual day, a short peak and too few days are nothing unusual', () => {
  expect(dayAgainst(carpet(usual), 5, rows)?.stretches).toEqual([]);
  expect(
    dayAgainst(
      carpet((d, m) => (d === 4 && m >= 1200 && m < 1215 ? 3000 : usual(d, m))),
      4,
      rows,
    )?.stretches,
  ).toEqual([]);
  expect(dayAgainst(carpet(usual), 5, [1, 2, 3, 4, 5])).toBeNull();
});

it('of a day that has not ended the same hours of the others count', () => {
  const found = dayAgainst(
    carpet((d, m) => (d === 9 && m >= 720 ? NaN : usual(d, m))),
    9,
    rows,
  );
  expect(found).toMatchObject({ energy: 4 * 590 + 800, usual: 4 * 540 + 800, stretches: [] });
  expect(
    dayAgainst(
      carpet((d, m) => (d === 9 ? NaN : usual(d, m))),
      9,
      rows,
    ),
  ).toBeNull();
});
