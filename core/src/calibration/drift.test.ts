import { driftBetween } from './drift.js';

const HOUR = 3_600_000;
const DAYS = 30;
const T = Array.from({ length: DAYS * 24 }, (_, i) => i * HOUR);
/** A load that comes and goes. */
const LOAD = T.map((_, i) => 5 + 4 * Math.sin(i / 3) + ((i * 7919) % 13) / 13);
const noise = (i: number) => 0.01 * (((i * 104_729) % 17) / 8.5 - 1);
/** A meter that is off by `from` at first and by `to` in the end. */
const meter = (from: number, to: number) =>
  LOAD.map((x, i) => x * (from + ((to - from) * i) / (T.length - 1)) + noise(i));

it('tells a meter that creeps from one that stands still', () => {
  expect(driftBetween(T, meter(1, 1), LOAD)).toBeNull();
  expect(driftBetween(T, meter(0.97, 0.97), LOAD)).toBeNull();
  const drift = driftBetween(T, meter(1, 1.025), LOAD);
  expect(drift?.by).toBeCloseTo(0.025, 3);
  expect(drift?.over).toBe(T.at(-1));
});

it('says nothing of less than a percent, nor within a week', () => {
  expect(driftBetween(T, meter(1, 1.006), LOAD)).toBeNull();
  const week = 6 * 24;
  expect(driftBetween(T.slice(0, week), meter(1, 1.2).slice(0, week), LOAD)).toBeNull();
});

it('says nothing of meters that do not measure the same', () => {
  // A meter above, with another load behind it that grows.
  const above = LOAD.map((x, i) => x + (i / T.length) * (2 + 2 * Math.cos(i / 5)));
  expect(driftBetween(T, above, LOAD)).toBeNull();
  expect(
    driftBetween(
      T,
      T.map(() => 0),
      LOAD,
    ),
  ).toBeNull();
  expect(
    driftBetween(
      T,
      LOAD,
      T.map(() => 0),
    ),
  ).toBeNull();
});
