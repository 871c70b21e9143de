import { compare } from './comparison.js';

// Expected values by numpy 1.x (linalg.lstsq on the columns x and x · t, and its covariance s² (AᵀA)⁻¹), computed beside.
const X = [
  5, 5.922, 6.598, 7.125, 7.667, 7.783, 7.964, 7.942, 7.071, 6.358, 5.767, 4.871, 3.969, 2.998, 2.568, 2.308,
  1.734, 1.999, 2.043, 2.716, 3.327, 4.48, 5.146, 6.292,
];
const Y = [
  4.853, 5.743, 6.355, 6.909, 7.449, 7.568, 7.714, 7.717, 6.863, 6.175, 5.639, 4.731, 3.869, 2.942, 2.494,
  2.251, 1.696, 1.954, 1.973, 2.658, 3.282, 4.354, 5.056, 6.166,
];
const T = X.map((_, i) => 1_790_000_000_000 + i * 3_600_000);

it('difference, scatter, ratio and drift as numpy finds them', () => {
  const found = compare(T, X, Y);
  expect(found?.blocks).toBe(24);
  expect(found?.difference).toBeCloseTo(-0.134875, 9);
  expect(found?.scatter).toBeCloseTo(0.07158048829358335, 9);
  expect(found?.ratio).toBeCloseTo(0.9729456405456004, 9);
  expect(found?.drift?.perDay).toBeCloseTo(0.012973666674753472, 8);
  // With 22 degrees of freedom the quantile of 20 holds, 2.09 (JCGM 100, table G.2).
  expect(found?.drift?.uncertainty).toBeCloseTo(2.09 * 0.0023836337457364843, 8);
});

it('gaps of either are left out, and what was never known at once is not compared', () => {
  const gappy = Y.map((y, i) => (i % 2 === 0 ? null : y));
  const found = compare(T, X, gappy);
  expect(found?.blocks).toBe(12);
  const odd = X.filter((_, i) => i % 2 === 1);
  expect(found?.base).toBeCloseTo(odd.reduce((a, b) => a + b, 0) / 12, 9);
  expect(
    compare(
      T,
      X.map(() => null),
      Y,
    ),
  ).toBeNull();
});

it('against nothing there is a difference and no ratio; of few blocks no drift is told', () => {
  expect(compare([0, 1], [0, 0], [1, 3])).toMatchObject({ ratio: null, difference: 2, drift: null });
  expect(compare(T.slice(0, 5), X.slice(0, 5), Y.slice(0, 5))?.drift).toBeNull();
});
