import { applyCorrection } from './correction.js';
import { correctionUncertainty, fitCorrection, FitError } from './fit.js';
import { correctionInWords, fitInWords } from './inWords.js';
import { isExact, judgedLoads } from './judge.js';

/** A clamp whose gain falls towards small loads; 0.01 A steps of the reading, references good to 0.5 %. */
const POINTS = [
  [0.04, 0],
  [1, 1.05],
  [5, 5.2],
  [10, 10.3],
].map(([raw, reference]) => ({
  raw: raw as number,
  reference: reference as number,
  deviation: 0.002,
  count: 10,
  step: 0.001,
  key: 'clamp',
  shared: 0.005 / Math.sqrt(3),
}));

it('goes through every point, so that only check points say how good it is', () => {
  const fit = fitCorrection(POINTS, { method: 'pieces' });
  for (const { raw, reference } of POINTS) expect(applyCorrection(fit, raw)).toBeCloseTo(reference, 12);
  // Halfway between two points, by hand.
  expect(applyCorrection(fit, 3)).toBeCloseTo(3.125, 12);
  expect(isExact(fit, POINTS)).toBe(true);
  const check = { ...(POINTS[2] as (typeof POINTS)[number]), raw: 3, reference: 3.15, check: true };
  expect(judgedLoads(fit, [...POINTS, check])).toMatchObject([
    { load: 3.15, error: expect.closeTo((100 * -0.025) / 3.15, 9) as number },
  ]);
});

it('is as uncertain between its points as these are, and more beyond them', () => {
  const fit = fitCorrection(POINTS, { method: 'pieces' });
  const u = (raw: number) => correctionUncertainty(fit, raw);
  // By hand at 10.3 A: 0.5 % rectangular is 0.02973 A, the step 0.000289, the scatter 0.00063: hypot 0.02974.
  expect(u(10)).toBeCloseTo(0.02974, 4);
  expect(u(7.5)).toBeCloseTo((u(5) + u(10)) / 2, 12);
  expect(u(15)).toBeGreaterThan(u(10));
});

it('refuses two points, points on top of one another, and a reading that goes the other way', () => {
  const code = (points: typeof POINTS) => {
    try {
      fitCorrection(points, { method: 'pieces' });
    } catch (error) {
      return (error as FitError).code;
    }
    return null;
  };
  const at = (raw: number, reference: number) => ({
    ...(POINTS[0] as (typeof POINTS)[number]),
    raw,
    reference,
  });
  expect(code(POINTS.slice(0, 2))).toBe('no-points');
  expect(code([...POINTS, at(5.005, 5.3)])).toBe('points-too-close');
  expect(code([...POINTS, at(5, 5.3)])).toBe('points-too-close');
  expect(code([...POINTS, at(7, 4)])).toBe('no-gain');
});

it('is written with its knots and its floor', () => {
  const fit = fitCorrection(POINTS, { method: 'pieces' });
  expect(fitInWords(fit, 'A', { noLoad: 0.05 })).toBe(
    'raw → reading: 0.04 → 0, 1 → 1.05, 5 → 5.2, 10 → 10.3 A; below 0.05 A nothing',
  );
  expect(correctionInWords({ gain: 1.05, offset: 0, noLoad: 0.05 }, 'A')).toBe(
    '1.0500 × raw; below 0.05 A nothing',
  );
});
