import { classError, powerErrorOf } from './accuracy.js';
import { chooseClamp, expectedError, reachOf } from './reach.js';

const clamp = { kind: 'current-transformer', ratedCurrent: 100, turns: 1, accuracyClass: '1' } as const;

// IEC 61869-2, recalled (design, CHECKS): class 0.5 and 1 at 5/20/100/120 % of rated current.
it.each([
  ['0.5', 0.05, 1.5, 90],
  ['0.5', 0.2, 0.75, 45],
  ['0.5', 1, 0.5, 30],
  ['0.5', 1.2, 0.5, 30],
  ['1', 0.05, 3, 180],
  ['1', 0.2, 1.5, 90],
  ['1', 1, 1, 60],
] as const)('class %s at %s of its rating: ±%s %, %s minutes', (accuracy, share, ratio, minutes) => {
  const error = classError(accuracy, share);
  expect(error?.ratio).toBeCloseTo(ratio, 9);
  expect(error?.minutes).toBeCloseTo(minutes, 9);
});

it('promises nothing outside of what a class names, and lies between in between', () => {
  expect(classError('1', 0.04)).toBeNull();
  expect(classError('1', 1.3)).toBeNull();
  expect(classError('0.5S', 0.01)?.ratio).toBe(1.5);
  // Half way from 5 to 20 % on a logarithmic scale is 10 %.
  expect(classError('1', 0.1)?.ratio).toBeCloseTo(2.25, 9);
  expect(classError('3', 1)).toEqual({ ratio: 3, minutes: null });
});

it('30 minutes at power factor 0.5 are 1.51 % of power, and nothing at 1 (CHECKS)', () => {
  expect(powerErrorOf(30, 0.5)).toBeCloseTo(1.51, 2);
  expect(powerErrorOf(30, 1)).toBeCloseTo(0, 9);
});

it('two turns halve what it reaches, at both ends', () => {
  const once = reachOf(clamp);
  const twice = reachOf({ ...clamp, turns: 2 });
  expect(once).toMatchObject({ rated: 100, upTo: 120 });
  expect(twice).toMatchObject({ rated: 50, upTo: 60 });
  expect(twice?.smallest).toBeCloseTo((once?.smallest ?? NaN) / 2, 9);
  // 0.1 % of 100 A, three standard deviations of a difference: 3 · √2 · 0.1 A.
  expect(once?.smallest).toBeCloseTo(0.424, 3);
  expect(reachOf({ ...clamp, ratedCurrent: null })).toBeNull();
});

it('a coarse device hides small loads that the clamp would tell', () => {
  // 0–9999 counts of 60 A are 6 mA a count; 0.1 A a count is 29 mA of standard uncertainty.
  expect(reachOf(clamp, 1)?.smallest).toBeCloseTo(3 * Math.SQRT2 * Math.hypot(0.1, 1 / Math.sqrt(12)), 9);
});

it('expects of a clamp of class 1 what the class allows, in power too', () => {
  expect(expectedError(clamp, 20, 0.5)).toMatchObject({ ratio: 1.5, minutes: 90 });
  expect(expectedError(clamp, 20, 0.5)?.power).toBeCloseTo(1.5 + 4.53, 1);
  expect(expectedError(clamp, 3)).toBeNull();
  expect(expectedError({ ...clamp, accuracyClass: null }, 20)).toBeNull();
});

it('chooses the smallest clamp that the breaker cannot saturate, and says how small a load it reads', () => {
  expect(chooseClamp(32, 20)).toMatchObject({ rating: 40, turns: 1 });
  expect(chooseClamp(32, 20)?.why[1]).toMatch(/50 % of that: class 1 allows ±1\.22 %/);
  // A lamp of 0.5 A behind 16 A: 2.5 % of 20 A, where class 1 promises nothing.
  expect(chooseClamp(16, 0.5)?.why.at(-1)).toMatch(/below 5 %/);
  // The smallest clamp at hand is far larger than the breaker: turns use its range.
  expect(chooseClamp(16, 0.5, '1', [100])).toMatchObject({ rating: 100, turns: 5 });
  expect(chooseClamp(16, null)?.why[1]).toMatch(/not known/);
  expect(chooseClamp(5000, 20)).toBeNull();
});
