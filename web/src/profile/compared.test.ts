import type { PlaceProfile } from '@loka/contract/profile';
import { emptySpans, profileCalendar, profileOf } from '@loka/core/profile';
import { comparedSays } from './compared.js';
import { textOf } from './parts.js';

const MINUTE = 60_000;
const DAY = 1440 * MINUTE;
const START = Date.UTC(2026, 10, 2);

/** Seven days from a Monday. */
function week(watts: (minute: number) => number): PlaceProfile {
  const spans = emptySpans(START, MINUTE, (7 * DAY) / MINUTE);
  for (let i = 0; i < spans.length; i++)
    for (const c of [spans.mean, spans.min, spans.max, spans.last]) c[i] = watts(i);
  const profile = profileOf(spans, profileCalendar('UTC', spans));
  return {
    ...profile,
    nodeId: 1,
    source: 'power',
    summed: null,
    without: [],
    carpet: { ...profile.carpet, watts: [...profile.carpet.watts] },
  };
}
const compared = (now: (m: number) => number, then: (m: number) => number) =>
  comparedSays(week(now), week(then)).map(textOf);

/** Warms up for so long from 02:30, then holds its heat, four minutes of each quarter-hour, until half past nine. */
const oven = (warmUp: number, standby: number) => (minute: number) => {
  const m = minute % 1440;
  if (m < 150 || m >= 570) return standby;
  return m < 150 + warmUp || (m - 150 - warmUp) % 15 >= 11 ? 14_000 : standby;
};

it('is the oven’s warm-up longer than last week', () => {
  const words = compared(oven(60, 36), oven(51, 36));
  expect(words.find((w) => w.startsWith('Runs that'))).toBe(
    'Runs that took 51 min take 1 h, 9 min longer. (7, as a rule of 1 h; before 7, as a rule of 51 min)',
  );
  expect(words.find((w) => w.startsWith('Runs of'))).toMatch(/^Runs of 4 min take as long as before\./);
  expect(compared(oven(60, 36), oven(60, 36)).filter((w) => w.startsWith('Runs of'))).toHaveLength(2);
});

it('a period beside itself differs in nothing', () => {
  const same = week(oven(60, 36));
  for (const { says } of comparedSays(same, same)) {
    const words = textOf({ says, known: '' });
    expect(words).toMatch(/as much\.|as long as before\./);
    expect(words).not.toMatch(/more|less|longer|shorter/);
  }
});

it('energy a day, standby and demand', () => {
  // 100 W against 80 W all day.
  const words = compared(
    () => 100,
    () => 80,
  );
  expect(words[0]).toBe(
    'Takes 2.40 kWh a day, before 1.92 kWh: 25 % more. (7 d read, 100.0 %; before 7 d read, 100.0 %)',
  );
  expect(words).toContain(
    'Stands by at 100 W, before 80 W: 25 % more. (for 100 % of the time, before for 100 %)',
  );
  expect(words.at(-1)).toMatch(
    /^Highest quarter-hour 100 W, before 80 W: 25 % more\. \(load factor 1\.00, before 1\.00\)/,
  );
});

it('little that was read is not compared, and many times as much is told so', () => {
  // An hour and a half of a week.
  const few = compared(
    () => 100,
    (m) => (m < 90 ? 100 : NaN),
  );
  expect(few).toEqual([
    'Too little was read to compare them. (7 d read, 100.0 %; before 1 h 30 min read, 0.9 %; half of each is needed)',
  ]);
  expect(
    compared(
      () => 1200,
      () => 100,
    )[0],
  ).toMatch(/^Takes 28\.80 kWh a day, before 2\.40 kWh: 12 times as much\./);
});

it('what gives, what comes anew, and what is not read', () => {
  expect(
    compared(
      (m) => (m % 1440 < 480 ? -900 : 0),
      (m) => (m % 1440 < 480 ? -1000 : 0),
    )[0],
  ).toMatch(/^Gives 7\.20 kWh a day, before 8\.00 kWh: 10 % less\./);
  // The one that runs already when the week begins is not seen whole.
  const both = compared((m) => (m % 60 < 10 ? 800 : 50), oven(60, 36));
  expect(
    both.some((w) => w === 'Runs of about 10 min have come. (167 of them; before there were none)'),
  ).toBe(true);
  expect(both.some((w) => w.startsWith('Runs of about 1 h no longer come.'))).toBe(true);
  expect(
    compared(
      () => 5,
      () => NaN,
    ),
  ).toEqual([]);
});
