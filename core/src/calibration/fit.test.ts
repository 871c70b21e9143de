import { applyCorrection, correctionAt } from './correction.js';
import { isSteady, standOf, steadySince, summariseCapture } from './capture.js';
import { percentError } from './error.js';
import { fitCorrection, FitError } from './fit.js';

// NIST Statistical Reference Datasets, linear regression, "Norris" (calibration of ozone monitors, public domain).
const NORRIS =
  '0.1 0.2; 338.8 337.4; 118.1 118.2; 888.0 884.6; 9.2 10.1; 228.1 226.5; 668.5 666.3; 998.5 996.3; 449.1 448.6; 778.9 777.0; 559.2 558.2; 0.3 0.4; 0.1 0.6; 778.1 775.5; 668.8 666.9; 339.3 338.0; 448.9 447.5; 10.8 11.6; 557.7 556.0; 228.3 228.1; 998.0 995.8; 888.8 887.6; 119.6 120.2; 0.3 0.3; 0.6 0.3; 557.6 556.8; 339.3 339.1; 888.0 887.2; 998.5 999.0; 778.9 779.0; 10.2 11.1; 117.6 118.3; 228.9 229.2; 668.4 669.1; 449.2 448.9; 0.2 0.5';

describe('line of least squares against NIST StRD Norris', () => {
  const points = NORRIS.split('; ').map((pair) => {
    const [reference, raw] = pair.split(' ').map(Number) as [number, number];
    return { raw, reference };
  });
  const fit = fitCorrection(points);
  it.each([
    ['offset', fit.offset, -0.262323073774029],
    ['gain', fit.gain, 1.00211681802045],
    ['residual deviation', fit.residualDeviation, 0.884796396144373],
    ['R squared', fit.rSquared, 0.999993745883712],
  ])('%s agrees to 1e-10', (_name, value, certified) => {
    expect(points).toHaveLength(36);
    expect(Math.abs((value as number) / certified - 1)).toBeLessThan(1e-10);
  });
});

// NIST StRD, linear regression through the origin, from the files of Debian's gretl-data 2022c. Its other sets (Pontius, Filip,
// Longley, Wampler 1–5) are polynomials, or have several predictors: no line has to agree with them.
describe.each([
  {
    name: 'NoInt1',
    pairs: Array.from({ length: 11 }, (_, i): [number, number] => [130 + i, 60 + i]),
    b1: 2.07438016528926,
    sd: 0.0165289256198347,
    residual: 3.56753034006338,
  },
  {
    name: 'NoInt2',
    pairs: [
      [3, 4],
      [4, 5],
      [4, 6],
    ] as [number, number][],
    b1: 0.727272727272727,
    sd: 0.0420827318078432,
    residual: 0.369274472937998,
  },
])('a gain alone against NIST StRD $name', ({ pairs, b1, sd, residual }) => {
  const points = pairs.map(([reference, raw]) => ({ raw, reference }));
  const fit = fitCorrection(points, { method: 'gain' });
  it.each([
    ['gain', fit.gain, b1],
    ['its standard deviation', fit.uGain, sd],
    ['residual deviation', fit.residualDeviation, residual],
  ])('%s agrees to 1e-13', (_name, value, certified) =>
    expect(Math.abs((value as number) / certified - 1)).toBeLessThan(1e-13),
  );
});

it('goes exactly through two points: raw 0.0123 is 5 A, raw 0.0008 is 0 A (trade)', () => {
  const fit = fitCorrection([
    { raw: 0.0008, reference: 0 },
    { raw: 0.0123, reference: 5 },
  ]);
  expect(applyCorrection(fit, 0.0008)).toBeCloseTo(0, 12);
  expect(applyCorrection(fit, 0.0123)).toBeCloseTo(5, 12);
  expect(fit.gain).toBeCloseTo(5 / 0.0115, 9);
});
it('one point: zero moves the offset, a load the gain', () => {
  expect(fitCorrection([{ raw: 0.0008, reference: 0 }])).toMatchObject({
    method: 'offset',
    gain: 1,
    offset: -0.0008,
  });
  expect(fitCorrection([{ raw: 4, reference: 5 }])).toMatchObject({ method: 'gain', gain: 1.25, offset: 0 });
});
it.each([
  ['no-points', []],
  [
    'points-coincide',
    [
      { raw: 5, reference: 0 },
      { raw: 5, reference: 5 },
    ],
  ],
  [
    'points-coincide',
    [
      { raw: 0, reference: 0 },
      { raw: 0, reference: 5 },
    ],
  ],
  ['not-finite', [{ raw: NaN, reference: 5 }]],
  ['no-gain', [{ raw: 0, reference: 5 }]],
  [
    'no-gain',
    [
      { raw: 1, reference: 5 },
      { raw: 2, reference: 1 },
    ],
  ],
] as const)('refuses: %s', (code, points) => {
  expect(() => fitCorrection(points)).toThrow(expect.objectContaining({ name: FitError.name, code }));
});

describe('which correction holds', () => {
  const versions = [10, 20, 30].map((validFrom) => ({ validFrom, gain: validFrom, offset: 0 }));
  it.each([
    [9, null],
    [10, 10],
    [19, 10],
    [20, 20],
    [1000, 30],
  ])('at %i', (t, gain) => expect(correctionAt(versions, t)?.gain ?? null).toBe(gain));
});

it('captures: mean, deviation and spread (by hand: 1, 2, 3, 4)', () => {
  const capture = summariseCapture([1, 2, 3, 4]);
  expect(capture).toMatchObject({ count: 4, mean: 2.5, spread: 3 });
  expect(capture.deviation).toBeCloseTo(Math.sqrt(5 / 3), 12);
  expect(isSteady(capture, 'current')).toBe(false);
  expect(isSteady(summariseCapture([100, 100.5]), 'current')).toBe(true);
  expect(() => summariseCapture([])).toThrow('no good reading');
});
describe('how a reading stands before it is averaged', () => {
  const wobble = (n: number, by: number) => Array.from({ length: n }, (_, i) => by * Math.sin(12.9898 * i));
  it.each([
    ['a load that runs', wobble(8, 0.02).map((w) => 12.5 + w), 'steady'],
    ['one that flutters by 3 %', wobble(8, 0.2).map((w) => 12.5 + w), 'moving'],
    ['one that has just come', [0.01, 0.01, 0.01, 0.01, 12.5, 12.5, 12.5, 12.5], 'moving'],
    // Within 1 % all the while, and creeping all the while.
    ['one that warms up', Array.from({ length: 8 }, (_, i) => 12.5 - 0.015 * i), 'falling'],
    [
      'a zero that decays after a load',
      Array.from({ length: 8 }, (_, i) => 0.05 * Math.exp(-i / 3)),
      'falling',
    ],
    ['a zero that has stopped falling', wobble(8, 0.002).map((w) => 0.048 + w), 'steady'],
    ['one that rises', Array.from({ length: 8 }, (_, i) => 1 + 0.01 * i), 'rising'],
    ['three readings', [5, 5, 5], 'too-few'],
  ] as const)('%s is %s', (_, values, stand) => expect(standOf(values, 'current')).toBe(stand));
  it('whole steps of a coarse reading are steady', () =>
    expect(standOf([5, 5.1, 5, 5.1, 5.1, 5], 'current', 0.1)).toBe('steady'));
  it('steady since it came to rest, and not at all while it moves', () => {
    const at = (values: number[]) => values.map((v, i) => ({ t: i * 1000, v }));
    expect(steadySince(at([0, 0, 12.5, 12.5, 12.5, 12.5, 12.5]), 'current')).toBe(4000);
    expect(steadySince(at([12.5, 12.5, 12.5, 0]), 'current')).toBe(0);
    expect(steadySince([], 'current')).toBe(0);
  });
});
it('percent error is counted against the reference', () => {
  expect(percentError(5.402, 5.688)).toBeCloseTo(-5.028, 3);
  expect(percentError(0.1, 0)).toBeNull();
});
