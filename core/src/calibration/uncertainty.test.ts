import fc from 'fast-check';
import { readingUncertainty, type Evidence } from './uncertainty.js';

const point = (mean: number, reference: number, deviation = 0, count = 20) => ({
  mean,
  reference,
  deviation,
  count,
});

// Worked by hand (numpy agrees): the parts are standard uncertainties, and the result is twice the root of their squares.
it.each<[string, number, number, Evidence | null, number]>([
  // 2 · 0.05 · 10 / √3
  ['10 A without a calibration', 10, 0, null, 0.57735],
  // 2 · √((0.05 · 10 / √3)² + (1 / √12)²)
  ['the same in steps of 1 A', 10, 1, null, 0.816497],
  // nothing but the step: 2 · 0.1 / √12
  ['at zero only the step is left', 0, 0.1, null, 0.057735],
  // 2 · 0.015 · 10 / √3
  [
    'calibrated at two points without scatter',
    10,
    0,
    { gain: 2, offset: 0, points: [point(0, 0), point(5, 10)] },
    0.173205,
  ],
  // with 0.2 raw of scatter over 16 readings: 2 · √(0.0866025² + (2 · 0.2 / 4)²)
  [
    'with scatter at the nearer point',
    10,
    0,
    { gain: 2, offset: 0, points: [point(0, 0, 9, 1), point(5, 10, 0.2, 16)] },
    0.264575,
  ],
  // residuals 0.1, −0.2, 0.1 over one degree of freedom: √0.06; 2 · √(0.0866025² + 0.06)
  [
    'with what the fit leaves at three points',
    10,
    0,
    { gain: 1, offset: 0, points: [point(1, 1.1), point(5, 4.8), point(10, 10.1)] },
    0.519615,
  ],
  ['a reading of the other sign is as uncertain', -10, 0, null, 0.57735],
])('%s', (_, value, step, evidence, expected) =>
  expect(readingUncertainty(value, step, evidence)).toBeCloseTo(expected, 5),
);
// A gain known to 0.1 %, an offset to 0.01 A: 1.96 · √((10 · 0.001)² + 0.01²); of a zero alone the tolerance of the clamp beside.
it.each([
  ['line', 0.001, 1.96 * Math.hypot(0.01, 0.01)],
  ['offset', 0, 1.96 * Math.hypot(0.01, (0.05 * 10) / Math.sqrt(3))],
] as const)('10 A by a %s of which is known how certain it is', (method, uGain, expected) => {
  const fit = {
    method,
    gain: 1,
    offset: 0,
    uGain,
    uOffset: 0.01,
    correlation: 0,
    degrees: null,
    residualDeviation: null,
    rSquared: null,
  };
  expect(readingUncertainty(10, 0, { gain: 1, offset: 0, points: [], fit })).toBeCloseTo(expected, 9);
});
it('more scatter, a coarser step, a larger value never make it smaller', () => {
  const size = fc.double({ min: 0, max: 1e4, noNaN: true });
  fc.assert(
    fc.property(size, size, size, size, (value, step, scatter, more) => {
      const of = (v: number, s: number, d: number) =>
        readingUncertainty(v, s, { gain: 1, offset: 0, points: [point(1, 1, d)] });
      const base = of(value, step, scatter);
      for (const other of [
        of(value + more, step, scatter),
        of(value, step + more, scatter),
        of(value, step, scatter + more),
      ])
        expect(other).toBeGreaterThanOrEqual(base * (1 - 1e-12));
    }),
  );
});
