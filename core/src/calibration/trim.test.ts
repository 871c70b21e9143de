import fc from 'fast-check';
import { trimAdvice, trimPosition, type Deviation } from './trim.js';

/** Deviations once a second, the last one now. */
const series = (...percents: number[]): Deviation[] =>
  percents.map((percent, i) => ({ t: i * 1000, percent }));

it('says which way to turn without knowing the trimmer', () => {
  expect(trimAdvice([], 0.5).step).toBe('turn');
  expect(trimAdvice(series(-4, -4, -4), 0.5).step).toBe('turn');
  expect(trimAdvice(series(-4, -3.5, -3), 0.5).step).toBe('same-way');
  expect(trimAdvice(series(-4, -4.4, -5), 0.5).step).toBe('other-way');
  // Turned past the reference.
  expect(trimAdvice(series(-2, 1.5), 0.5).step).toBe('other-way');
});

it('inside the tolerance it waits five seconds, and then stops', () => {
  expect(trimAdvice(series(-2, -0.4, 0.1, 0.2), 0.5)).toEqual({ step: 'hold', insideFor: 2000 });
  expect(trimAdvice(series(-2, 0.4, 0.1, 0.2, 0.1, 0.1, 0.2), 0.5)).toEqual({
    step: 'stop',
    insideFor: 5000,
  });
  expect(trimAdvice(series(0.1, 0.1, 0.1, 0.1, 0.1, 0.1, 0.6), 0.5).step).not.toBe('stop');
  // What is no number is never inside.
  expect(trimAdvice(series(0.1, NaN), 0.5).insideFor).toBe(0);
});

it('the scale is symmetric, goes up with the deviation, and ends at ten percent', () => {
  expect(trimPosition(0)).toBe(0);
  expect(trimPosition(10)).toBe(1);
  expect(trimPosition(-50)).toBe(-1);
  // asinh(1) / asinh(33.33) by hand: 0.881374 / 4.199930.
  expect(trimPosition(0.3)).toBeCloseTo(0.881374 / 4.19993, 5);
  fc.assert(
    fc.property(
      fc.double({ min: -10, max: 10, noNaN: true }),
      fc.double({ min: -10, max: 10, noNaN: true }),
      (a, b) => {
        expect(trimPosition(-a)).toBeCloseTo(-trimPosition(a), 12);
        if (a < b) expect(trimPosition(a)).toBeLessThanOrEqual(trimPosition(b));
      },
    ),
  );
});
