import type { Cycle } from './cycles.js';
import { kindsOf, trendOf } from './index.js';

const MINUTE = 60_000;
const DAY = 1440 * MINUTE;
const run = (day: number, minute: number, minutes: number): Cycle => ({
  start: day * DAY + minute * MINUTE,
  end: day * DAY + (minute + minutes) * MINUTE,
  energy: 100 * minutes,
  peak: 6000,
});
const minuteOfDay = (t: number) => Math.floor((t % DAY) / MINUTE);
const dayOf = (t: number) => Math.floor(t / DAY);
const kinds = (cycles: Cycle[]) => kindsOf(cycles, MINUTE, minuteOfDay, dayOf);
const days = Array.from({ length: 10 }, (_, d) => d);

it('the warm-up of an oven and what holds its heat are two kinds', () => {
  const cycles = days.flatMap((d) => [
    run(d, 150 + (d % 3), 60),
    ...Array.from({ length: 20 }, (_, i) => run(d, 220 + 12 * i, 3 + (i % 3))),
  ]);
  const { kinds: found, unusual } = kinds(cycles);
  expect(found).toHaveLength(2);
  expect(found[0]).toMatchObject({
    count: 200,
    days: 10,
    clock: null,
    shortest: 3 * MINUTE,
    longest: 5 * MINUTE,
  });
  expect(found[1]).toMatchObject({
    count: 10,
    days: 10,
    clock: 151,
    on: { median: 60 * MINUTE },
    energy: { median: 6000 },
  });
  expect(found[1]?.last.start).toBe(9 * DAY + 150 * MINUTE);
  expect(unusual).toEqual([]);
});

it('one that runs far longer than the others is unusual, and few tell nothing', () => {
  const usual = days.flatMap((d) => [run(d, 100, 20), run(d, 300, 26)]);
  const long = run(4, 800, 162);
  expect(kinds([...usual, long])).toMatchObject({ kinds: [{ count: 20 }], unusual: [long] });
  expect(kinds([...usual.slice(0, 4), long]).unusual).toEqual([]);
  expect(kinds([])).toEqual({ kinds: [], unusual: [] });
});

it('lengths that are known to a minute alone make no kinds', () =>
  expect(kinds(days.flatMap((d) => [run(d, 1, 1), run(d, 9, 2), run(d, 20, 4)])).kinds).toHaveLength(1));

it('a time of day about midnight is one', () =>
  expect(kinds(days.map((d) => run(d, d % 2 ? 1435 : 5, 30))).kinds[0]?.clock).toBe(0));

it('a rise that chance does not make, and its line', () => {
  const times = Array.from({ length: 14 }, (_, i) => i);
  // scipy 1.17: theilslopes 0.283333, kendalltau by its normal approximation p = 4.02802e-5.
  const rising = [21.2, 20.9, 21.5, 21.1, 21.9, 22.4, 21.8, 22.9, 23.1, 22.7, 23.6, 24.1, 23.9, 24.8];
  const got = trendOf(times, rising);
  expect(((got?.to as number) - (got?.from as number)) / 13).toBeCloseTo(0.283333, 5);
  expect((got?.chance as number) / 4.02802e-5).toBeCloseTo(1, 1);
  // Of values that only vary the same gives p = 0.868765.
  const varies = [21.2, 22.9, 20.7, 21.1, 23.9, 22.4, 20.8, 22.9, 21.1, 22.7, 20.6, 22.1, 23.9, 20.8];
  expect(trendOf(times, varies)?.chance).toBeCloseTo(0.868765, 5);
  expect(trendOf([1, 2, 3], [1, 2, 3])).toBeNull();
  expect(
    trendOf(
      times,
      times.map(() => 5),
    ),
  ).toMatchObject({ from: 5, to: 5 });
});
