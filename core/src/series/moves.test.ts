import fc from 'fast-check';
import { byPlainness, moveWith, QUALITY, type Mark, type Sample } from './index.js';

const every = (from: number, to: number, value: (t: number) => number): Sample[] =>
  Array.from({ length: Math.floor((to - from) / 1000) }, (_, i) => {
    const t = from + i * 1000;
    return { t, v: value(t), q: QUALITY.good };
  });
const MARKS: Mark[] = [
  { t: 0, on: false },
  { t: 10_000, on: true },
  { t: 20_000, on: false },
  { t: 30_000, on: true },
];
const isOn = (t: number) => (t >= 10_000 && t < 20_000) || t >= 30_000;

it('a load of 640 W on 6 W moves by 634 W, each time', () => {
  const move = moveWith(
    every(0, 40_000, (t) => (isOn(t) ? 640 : 6)),
    MARKS,
    40_000,
  );
  expect(move).toEqual({ step: 634, spread: 0, noise: 0, switchings: 3, clarity: 1, share: 634 / 640 });
});
it('what falls when the load goes on has a negative step', () => {
  expect(
    moveWith(
      every(0, 40_000, (t) => (isOn(t) ? 228 : 230)),
      MARKS,
      40_000,
    )?.step,
  ).toBe(-2);
});
it('a value that only gives way with the supply’s voltage comes after the load’s own, however steadily it does', () => {
  const load = moveWith(
    every(0, 40_000, (t) => (isOn(t) ? 3000 : 0) + 8 * Math.sin(t / 900)),
    MARKS,
    40_000,
  )!;
  // Another load on the same conductor, in coarse counts: less by one count each time, and not a trace of noise.
  const other = moveWith(
    every(0, 40_000, (t) => (isOn(t) ? 2.844 : 2.85)),
    MARKS,
    40_000,
  )!;
  expect(other.clarity).toBeGreaterThan(load.clarity);
  expect(other.share).toBeCloseTo(0.006 / 2.85, 9);
  expect([other, load].sort(byPlainness)[0]).toBe(load);
});
it('what has nothing to do with it is far less plain than what follows, also through noise', () => {
  const wobble = (t: number) => 5 * Math.sin(t / 700);
  const follows = moveWith(
    every(0, 40_000, (t) => (isOn(t) ? 120 : 100) + wobble(t)),
    MARKS,
    40_000,
  )!;
  const ramp = moveWith(
    every(0, 40_000, (t) => t / 1000),
    MARKS,
    40_000,
  )!;
  const still = moveWith(every(0, 40_000, wobble), MARKS, 40_000)!;
  expect(follows.clarity).toBeGreaterThan(0.7);
  expect(Math.max(ramp.clarity, still.clarity)).toBeLessThan(0.5);
  expect([still, follows, ramp].sort(byPlainness)[0]).toBe(follows);
});
it('readings that are still on their way do not count, nor do bad ones', () => {
  const late = (t: number) => (isOn(t - 1400) ? 50 : 0);
  expect(moveWith(every(0, 40_000, late), MARKS, 40_000)).toMatchObject({ step: 50, clarity: 1 });
  const bad = every(0, 40_000, (t) => (isOn(t) ? 1 : 0)).map((s) => ({ ...s, v: null, q: QUALITY.timeout }));
  expect(moveWith(bad, MARKS, 40_000)).toBeNull();
});
it('says nothing before it has been switched once', () => {
  expect(
    moveWith(
      every(0, 9000, () => 1),
      MARKS.slice(0, 1),
      9000,
    ),
  ).toBeNull();
});
it('a step is found whatever the level, the size and the number of switchings', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -1e4, max: 1e4, noNaN: true }),
      fc.double({ min: 0.5, max: 1e4, noNaN: true }),
      fc.integer({ min: 1, max: 6 }),
      (level, step, times) => {
        const marks = Array.from({ length: times + 1 }, (_, i) => ({ t: i * 8000, on: i % 2 === 1 }));
        const end = (times + 1) * 8000;
        const samples = every(0, end, (t) => level + (Math.floor(t / 8000) % 2 === 1 ? step : 0));
        const move = moveWith(samples, marks, end);
        expect(move?.step).toBeCloseTo(step, 6);
        expect(move?.switchings).toBe(times);
      },
    ),
  );
});
