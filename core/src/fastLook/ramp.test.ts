import { rampOf } from './ramp.js';

/** Readings each `ms` of a function of the seconds. */
const trace = (seconds: number, ms: number, of: (s: number) => number) => {
  const t = Array.from({ length: Math.floor((seconds * 1000) / ms) }, (_, i) => i * ms);
  return { t, v: t.map((at) => of(at / 1000)) };
};

/**
 * A direct-on-line start in closed form: nothing for two seconds, then at once 6 times the running current of 5 A, from where
 * it falls by e^(−t/0.4 s).
 */
const start = (s: number): number => (s < 2 ? 0 : 5 + 25 * Math.exp(-(s - 2) / 0.4));

it('finds peak, time to peak and the settled value of a start in closed form', () => {
  const ramp = rampOf(trace(10, 50, start));
  expect(ramp).toMatchObject({ before: 0, peak: 30, peakAt: 2000, spacing: 50 });
  // Between the reading at 1950 and that at 2000, a tenth of the way up.
  expect(ramp?.startedAt).toBeCloseTo(1955, 6);
  expect(ramp?.settled).toBeCloseTo(5, 5);
  expect(ramp?.ratio).toBeCloseTo(6, 5);
});

it('a soft start reaches its peak later', () => {
  const ramp = rampOf(
    trace(8, 100, (s) => (s < 1 ? 1 : s < 3 ? 1 + 10 * (s - 1) : s < 4 ? 21 - 14 * (s - 3) : 7)),
  );
  expect(ramp).toMatchObject({ before: 1, peak: 21, peakAt: 3000, settled: 7, ratio: 3 });
  expect(ramp?.timeToPeak).toBeCloseTo(1800, 0);
});

it('says nothing of a flat trace, of noise, of a fall, and of too few readings', () => {
  expect(rampOf(trace(5, 100, () => 3))).toBeNull();
  expect(rampOf(trace(5, 100, (s) => 3 + 0.01 * Math.sin(97 * s)))).toBeNull();
  expect(rampOf(trace(5, 100, (s) => (s < 2 ? 9 : 1)))).toBeNull();
  expect(rampOf(trace(0.5, 100, start))).toBeNull();
});

it('does not say what it settled at when the trace ends too soon, and leaves missing readings out', () => {
  const short = trace(2.4, 50, start);
  expect(rampOf(short)).toMatchObject({ peak: 30, settled: null, ratio: null });
  const holes = trace(10, 50, start);
  expect(rampOf({ ...holes, v: holes.v.map((v, i) => (i % 7 === 3 ? null : v)) })?.settled).toBeCloseTo(5, 5);
});

it('what stays up has settled, wherever noise puts its highest reading', () => {
  const oven = trace(6, 50, (s) => (s < 2 ? 0 : 20 + (s > 5.9 ? 0.1 : 0)));
  expect(rampOf(oven)?.settled).toBe(20);
});
