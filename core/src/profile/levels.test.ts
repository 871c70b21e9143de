import fc from 'fast-check';
import { emptySpans, type PowerSpans } from './powerSpans.js';
import { levelsOf } from './levels.js';
import { simulatedLoad } from './simulated/index.js';

const MINUTE = 60_000;

/** Minutes of a power that a function gives, each steady. */
const minutes = (length: number, watts: (minute: number) => number): PowerSpans => {
  const spans = emptySpans(0, MINUTE, length);
  for (let i = 0; i < length; i++)
    for (const column of [spans.mean, spans.min, spans.max, spans.last]) column[i] = watts(i);
  return spans;
};

// CHECKS.md, refrigerator A (trade): 67 W for a third of the time, 4.5 W else, 635 W for 16 min every 48 h.
const refrigerator = minutes(8 * 1440, (i) => (i % 2880 < 16 ? 635 : i % 60 < 20 ? 67 : 4.5));

it('a refrigerator: standby, running and the defrost, each with its share of time and energy', () => {
  const { levels, between } = levelsOf(refrigerator);
  expect(levels.map((l) => l.watts)).toEqual([4.5, 67, 635]);
  // By hand: 16 of 2880 min; a third of the rest, for the defrost falls into a running third.
  const shares = levels.map((l) => l.time);
  expect(shares[2]).toBeCloseTo(16 / 2880, 6);
  expect(shares[1]).toBeCloseTo((960 - 16) / 2880, 6);
  expect(between).toBeCloseTo(0, 9);
  // About 29 W in the mean (CHECKS.md): 1920 · 4.5 + 944 · 67 + 16 · 635 over 2880 min.
  const mean = (1920 * 4.5 + 944 * 67 + 16 * 635) / 2880;
  expect(mean).toBeCloseTo(28.5, 0);
  expect(levels[0]?.energy).toBeCloseTo((1920 * 4.5) / 2880 / mean, 6);
});

it('of one value there is one level, of nothing none, of zero one at zero', () => {
  expect(levelsOf(minutes(100, () => 250)).levels.map((l) => l.watts)).toEqual([250]);
  expect(levelsOf(emptySpans(0, MINUTE, 100)).levels).toEqual([]);
  expect(levelsOf(minutes(100, () => 0)).levels).toMatchObject([{ watts: 0, time: 1, energy: 0 }]);
});

it('what feeds in has levels below zero', () => {
  const { levels } = levelsOf(minutes(600, (i) => (i % 100 < 50 ? -1500 : 12)));
  expect(levels.map((l) => l.watts)).toEqual([-1500, 12]);
});

it('a drive runs at a range', () => {
  const { levels } = levelsOf(
    minutes(3000, (i) => (i % 200 < 100 ? 6 : 300 + 900 * Math.abs(Math.sin(i * 1.7)))),
  );
  expect(levels[0]).toMatchObject({ watts: 6, varies: false });
  expect(levels.slice(1).some((l) => l.varies && l.high - l.low > 500)).toBe(true);
});

it('shares of time, and of energy, sum to one with what lies between', () =>
  fc.assert(
    fc.property(
      fc.array(
        fc.oneof(fc.constantFrom(0, 4.5, 67, 635, -300), fc.double({ min: -3000, max: 3000, noNaN: true })),
        {
          minLength: 1,
          maxLength: 400,
        },
      ),
      (values) => {
        const { levels, between, betweenEnergy } = levelsOf(
          minutes(values.length, (i) => values[i] as number),
        );
        expect(levels.reduce((s, l) => s + l.time, between)).toBeCloseTo(1, 9);
        const energy = values.reduce((a, b) => a + b, 0);
        if (Math.abs(energy) > 1)
          expect(levels.reduce((s, l) => s + l.energy, betweenEnergy)).toBeCloseTo(1, 6);
        for (const l of levels) expect(l.low <= l.watts && l.watts <= l.high).toBe(true);
      },
    ),
  ));

it('of made-up loads with noise, gaps and others beside them, at least 95 % of the levels are found to 2 %', () => {
  let [found, all] = [0, 0];
  for (let seed = 1; seed <= 40; seed++) {
    const { spans, levels } = simulatedLoad(seed, 2);
    const got = levelsOf(spans).levels;
    for (const { watts } of levels) {
      all++;
      if (got.some((l) => Math.abs(l.watts - watts) <= Math.max(0.02 * watts, 0.3))) found++;
    }
  }
  expect(all).toBeGreaterThan(80);
  expect(found / all).toBeGreaterThanOrEqual(0.95);
});
