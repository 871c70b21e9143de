import { correctionUncertainty, coverageOf, fitCorrection, FitError, type CalibrationPoint } from './fit.js';
import { gauss, seededRandom } from '../verify/seeded/random.js';

describe('the calibration of a thermometer in JCGM 100:2008, H.3 (data recalled; numpy gives the published figures for them)', () => {
  const t = [21.521, 22.012, 22.512, 23.003, 23.507, 23.999, 24.513, 25.002, 25.503, 26.01, 26.511];
  const b = [-0.171, -0.169, -0.166, -0.159, -0.164, -0.165, -0.156, -0.157, -0.159, -0.161, -0.16];
  const fit = fitCorrection(t.map((at, i) => ({ raw: at - 20, reference: b[i] as number })));
  it.each([
    ['y1', fit.offset, -0.1712, 4],
    ['s(y1)', fit.uOffset, 0.0029, 4],
    ['y2', fit.gain, 0.00218, 5],
    ['s(y2)', fit.uGain, 0.00067, 5],
    ['r(y1, y2)', fit.correlation, -0.93, 3],
    ['s', fit.residualDeviation as number, 0.0035, 4],
    ['b(30 °C)', fit.offset + 10 * fit.gain, -0.1494, 4],
    ['its standard uncertainty', correctionUncertainty(fit, 10), 0.0041, 4],
  ])('%s', (_, value, published, digits) => expect(value).toBeCloseTo(published, digits));
  it('with nine degrees of freedom', () => {
    expect(fit.degrees).toBeCloseTo(9, 9);
    expect(coverageOf(fit)).toBe(2.26);
  });
});

// Exact rational arithmetic over the pairs of NIST StRD Norris, of which the certified values are
// 0.000429796848199937 and 0.232818234301152.
it('standard deviations of gain and offset are those that NIST certifies for Norris', () => {
  const pairs =
    '0.1 0.2; 338.8 337.4; 118.1 118.2; 888.0 884.6; 9.2 10.1; 228.1 226.5; 668.5 666.3; 998.5 996.3; 449.1 448.6; 778.9 777.0; 559.2 558.2; 0.3 0.4; 0.1 0.6; 778.1 775.5; 668.8 666.9; 339.3 338.0; 448.9 447.5; 10.8 11.6; 557.7 556.0; 228.3 228.1; 998.0 995.8; 888.8 887.6; 119.6 120.2; 0.3 0.3; 0.6 0.3; 557.6 556.8; 339.3 339.1; 888.0 887.2; 998.5 999.0; 778.9 779.0; 10.2 11.1; 117.6 118.3; 228.9 229.2; 668.4 669.1; 449.2 448.9; 0.2 0.5';
  const fit = fitCorrection(
    pairs.split('; ').map((pair) => {
      const [reference, raw] = pair.split(' ').map(Number) as [number, number];
      return { raw, reference };
    }),
  );
  expect(fit.uGain / 0.000429796848199937).toBeCloseTo(1, 10);
  expect(fit.uOffset / 0.232818234301152).toBeCloseTo(1, 10);
});

/** A made-up calibration: what is known of each point, and a draw of what one would read. */
const POINTS: Required<CalibrationPoint>[] = [
  { raw: 0.02, reference: 0, deviation: 0.002, count: 12, step: 0.001, own: 0, key: 'zero', shared: 0 },
  { raw: 1.9, reference: 2.01, deviation: 0.01, count: 20, step: 0.001, own: 0.006, key: 'a', shared: 0.004 },
  { raw: 5.4, reference: 5.69, deviation: 0.02, count: 20, step: 0.001, own: 0.006, key: 'a', shared: 0.004 },
  {
    raw: 12.1,
    reference: 12.73,
    deviation: 0.05,
    count: 20,
    step: 0.001,
    own: 0.02,
    key: 'b',
    shared: 0.006,
  },
];

describe('uncertainties against drawing everything at random (JCGM 101:2008)', () => {
  it.each([
    ['two points of one instrument', POINTS.slice(1, 3)],
    ['a zero and one load', POINTS.slice(0, 2)],
    ['four points of two instruments', POINTS],
  ])('%s', (_, points) => {
    // On a line, so that scatter about it adds nothing: then what is claimed is all there is.
    const onLine = points.map((p) => ({ ...p, reference: 1.05 * p.raw - 0.021 }));
    const fit = fitCorrection(onLine);
    const random = seededRandom(7);
    const normal = () => gauss(random);
    const rectangular = (u: number) => (2 * random() - 1) * u * Math.sqrt(3);
    // Weighted least squares by the normal equations, apart from the code.
    const weights = onLine.map(
      (p) => 1 / (p.own ** 2 + 1.05 ** 2 * (p.deviation ** 2 / p.count + p.step ** 2 / 12)),
    );
    const drawn = Array.from({ length: 40_000 }, () => {
      const errors: Record<string, number> = { zero: 0, a: rectangular(0.004), b: rectangular(0.006) };
      let [s, sx, sy, sxx, sxy] = [0, 0, 0, 0, 0];
      onLine.forEach((p, i) => {
        const x = p.raw + (normal() * p.deviation) / Math.sqrt(p.count) + rectangular(p.step / Math.sqrt(12));
        const y = p.reference * (1 + (errors[p.key] as number)) + normal() * p.own;
        const w = weights[i] as number;
        [s, sx, sy, sxx, sxy] = [s + w, sx + w * x, sy + w * y, sxx + w * x * x, sxy + w * x * y];
      });
      const gain = (s * sxy - sx * sy) / (s * sxx - sx * sx);
      return { gain, offset: (sy - gain * sx) / s };
    });
    const mean = (values: number[]) => values.reduce((a, b) => a + b, 0) / values.length;
    const [g, o] = [drawn.map((d) => d.gain), drawn.map((d) => d.offset)];
    const [mg, mo] = [mean(g), mean(o)];
    const sg = Math.sqrt(mean(g.map((v) => (v - mg) ** 2)));
    const so = Math.sqrt(mean(o.map((v) => (v - mo) ** 2)));
    const r = mean(g.map((v, i) => (v - mg) * ((o[i] as number) - mo))) / (sg * so);
    // The numerical tolerance of 40 000 draws is 0.4 % of a deviation; what is not linear adds a little.
    expect(fit.uGain / sg).toBeCloseTo(1, 1.7);
    expect(fit.uOffset / so).toBeCloseTo(1, 1.7);
    expect(fit.correlation).toBeCloseTo(r, 1.7);
  });
});

it('data made with a known gain and offset give them back within the stated uncertainty', () => {
  const random = seededRandom(2026);
  const normal = () => gauss(random);
  const RUNS = 2000;
  const hit = { gain: 0, offset: 0, reading: 0 };
  for (let run = 0; run < RUNS; run++) {
    const [gain, offset] = [0.8 + 0.4 * random(), 0.2 * (random() - 0.5)];
    const step = [0, 0.001, 0.01][run % 3] as number;
    const instrument = 0.005 * (2 * random() - 1);
    const loads = Array.from({ length: 2 + (run % 5) }, (_, i) => 0.5 + 4 * i + 2 * random());
    const points = loads.map((load): CalibrationPoint => {
      const count = 6 + Math.floor(20 * random());
      const noise = 0.001 + 0.004 * random();
      const raw = (load - offset) / gain;
      const readings = Array.from({ length: count }, () => {
        const value = raw + noise * normal();
        return step === 0 ? value : Math.round(value / step) * step;
      });
      const mean = readings.reduce((a, b) => a + b, 0) / count;
      const deviation = Math.sqrt(readings.reduce((a, b) => a + (b - mean) ** 2, 0) / (count - 1));
      return {
        raw: mean,
        deviation,
        count,
        step,
        reference: load * (1 + instrument) + 0.003 * normal(),
        own: 0.003,
        key: 'handheld',
        shared: 0.005 / Math.sqrt(3),
      };
    });
    const fit = fitCorrection(points);
    const k = coverageOf(fit);
    if (Math.abs(fit.gain - gain) <= k * fit.uGain) hit.gain++;
    if (Math.abs(fit.offset - offset) <= k * fit.uOffset) hit.offset++;
    const raw = (loads.at(-1) as number) * random();
    const off = fit.gain * raw + fit.offset - (gain * raw + offset);
    if (Math.abs(off) <= k * correctionUncertainty(fit, raw)) hit.reading++;
  }
  expect(hit.gain / RUNS).toBeGreaterThanOrEqual(0.94);
  expect(hit.offset / RUNS).toBeGreaterThanOrEqual(0.94);
  expect(hit.reading / RUNS).toBeGreaterThanOrEqual(0.94);
  // A rectangular error lies within 1.96 standard deviations always, so that more is covered; but not by claiming too much.
  expect(hit.gain / RUNS).toBeLessThan(0.999);
});

describe('points that are too close', () => {
  const at = (raw: number, reference: number, step: number, deviation = 0): CalibrationPoint => ({
    raw,
    reference,
    step,
    deviation,
    count: 10,
  });
  it.each([
    // step/√12 · √2 / 0.01: 0.41 of the gain, ±82 % with k = 2.
    ['0.01 and 0.02 A in steps of 0.01', [at(0.01, 0, 0.01), at(0.02, 5, 0.01)], /±82 %/],
    ['two that scatter by as much as they differ', [at(1, 0, 0, 0.3), at(1.1, 5, 0, 0.3)], /scatter by 0.30/],
    ['a load of two steps', [at(0.02, 0.05, 0.01)], /too small for its scatter and step/],
  ])('%s are refused', (_, points, says) => {
    expect(() => fitCorrection(points)).toThrow(
      expect.objectContaining({
        name: FitError.name,
        code: 'points-too-close',
        message: expect.stringMatching(says) as string,
      }),
    );
  });
  it.each([
    // 0.0001/√12 · √2 / 0.0115: 0.35 %.
    ['raw 0.0008 and 0.0123 in steps of 0.0001', [at(0.0008, 0, 0.0001), at(0.0123, 5, 0.0001)]],
    ['raw 0.0008 and 0.036 in steps of 0.001', [at(0.0008, 0, 0.001), at(0.036, 10.87, 0.001)]],
  ])('%s are fine (trade)', (_, points) => expect(fitCorrection(points).gain).toBeGreaterThan(300));
});

it('a clamp that points the other way gives a gain below 0 where that is meant', () => {
  const points = [
    { raw: 0, reference: 0 },
    { raw: -5, reference: 5 },
  ];
  expect(() => fitCorrection(points)).toThrow(expect.objectContaining({ code: 'no-gain' }));
  expect(fitCorrection(points, { turned: true })).toMatchObject({ gain: -1, offset: 0 });
});

it('a gain through zero, and an offset alone, of several points', () => {
  const points = [
    { raw: 2, reference: 2.2 },
    { raw: 4, reference: 4.2 },
  ];
  // Σxy/Σx² = 21.2/20; mean difference 0.2.
  expect(fitCorrection(points, { method: 'gain' }).gain).toBeCloseTo(1.06, 12);
  expect(fitCorrection(points, { method: 'offset' })).toMatchObject({ gain: 1, method: 'offset' });
  expect(fitCorrection(points, { method: 'offset' }).offset).toBeCloseTo(0.2, 12);
});
