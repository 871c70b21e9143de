import { fitCorrection } from './fit.js';
import { errorUncertainty, isExact, judgedLoads } from './judge.js';

const zero = { raw: 0.01, reference: 0 };
const half = { raw: 5.01, reference: 5.25, shared: 0.002, own: 0.003 };
const full = { raw: 10.01, reference: 10.5, shared: 0.002, own: 0.003 };

it('a line through two points says nothing of itself, a check point does', () => {
  const fit = fitCorrection([zero, full]);
  expect(isExact(fit, [zero, full])).toBe(true);
  expect(judgedLoads(fit, [zero, full])).toEqual([]);
  // The fit: 1.05 · (raw − 0.01); at 5.01 that is 5.25, of which 5.2 is 0.96 % less: it reads 0.96 % too much.
  const [judged] = judgedLoads(fit, [zero, full, { ...half, reference: 5.2, check: true }]);
  expect(judged?.load).toBe(5.2);
  expect(judged?.error).toBeCloseTo(0.9615, 3);
  // 1.96 · √(0.003² + (0.002 · 5.2)²) / 5.2
  expect(judged?.uncertainty).toBeCloseTo((196 * Math.hypot(0.003, 0.0104)) / 5.2, 6);
});
it('of three points each says something; a zero has no percent', () => {
  const fit = fitCorrection([zero, half, full]);
  expect(isExact(fit, [zero, half, full])).toBe(false);
  expect(judgedLoads(fit, [zero, half, full]).map((j) => j.load)).toEqual([5.25, 10.5]);
});
it('one load scales, and says nothing of itself', () => {
  const fit = fitCorrection([full]);
  expect(judgedLoads(fit, [full])).toEqual([]);
  expect(judgedLoads(fit, [full, { ...half, check: true }])).toHaveLength(1);
});
// Five readings of a deviation of 0.1: 0.0447 with 4 degrees, t = 2.78; a gain of 2 doubles it.
it('few readings make it less certain', () =>
  expect(errorUncertainty({ gain: 2 }, { raw: 1, reference: 2, deviation: 0.1, count: 5 })).toBeCloseTo(
    2.78 * 2 * (0.1 / Math.sqrt(5)),
    9,
  ));
