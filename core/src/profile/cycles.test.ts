import { emptySpans, type PowerSpans } from './powerSpans.js';
import { cycleFigures, cyclesOf, runRule } from './cycles.js';
import { levelsOf } from './levels.js';
import { simulatedLoad } from './simulated/index.js';

const MINUTE = 60_000;

/** Minutes out of a power that is sampled each second. */
const sampled = (length: number, watts: (second: number) => number): PowerSpans => {
  const spans = emptySpans(0, MINUTE, length);
  for (let i = 0; i < length; i++) {
    const values = Array.from({ length: 60 }, (_, s) => watts(60 * i + s));
    spans.mean[i] = values.reduce((a, b) => a + b, 0) / 60;
    spans.min[i] = Math.min(...values);
    spans.max[i] = Math.max(...values);
    spans.last[i] = values[59] as number;
  }
  return spans;
};
const cycles = (spans: PowerSpans) => {
  const levels = levelsOf(spans);
  const rule = runRule(levels, spans);
  return rule ? cyclesOf(spans, rule) : null;
};
const always = () => true;

// On for 23 min 20 s, off for 36 min 25 s: edges fall anywhere within a minute.
const [ON, OFF] = [1400, 2185];
const compressor = sampled(3 * 1440, (s) => (s % (ON + OFF) < OFF ? 46 : 799));

it('starts and ends are known to the second although minutes are all there is', () => {
  const got = cycles(compressor) ?? [];
  // The last run of the three days is cut off by their end.
  expect(got).toHaveLength(Math.floor((3 * 86_400) / (ON + OFF)));
  got.forEach(({ start, end, peak, energy }, i) => {
    expect(Math.abs(start / 1000 - (i * (ON + OFF) + OFF))).toBeLessThan(1.5);
    expect(Math.abs(end / 1000 - (i + 1) * (ON + OFF))).toBeLessThan(1.5);
    expect(peak).toBe(799);
    // Above standby: 753 W for 1400 s, 292.8 Wh.
    expect(energy).toBeCloseTo((753 * ON) / 3600, 0);
  });
  const figures = cycleFigures(got, 3 * 86_400_000, always);
  expect(figures?.on.median).toBeCloseTo(ON * 1000, -3.5);
  expect(figures?.pause?.median).toBeCloseTo(OFF * 1000, -3.5);
  expect(figures?.perDay).toBeCloseTo(got.length / 3, 6);
  expect(figures?.duty).toBeCloseTo((got.length * ON) / (3 * 86_400), 3);
});

it('runs shorter than a minute are seen, with how long they were', () => {
  const got = cycles(sampled(600, (s) => (s % 600 >= 615 - 600 && s % 600 < 35 ? 1200 : 3))) ?? [];
  // Whether it ran before the first minute nobody knows, so the one in it does not count.
  expect(got.length).toBe(59);
  for (const { start, end } of got) expect((end - start) / 1000).toBeCloseTo(20, 0);
});

it('what gives power has no runs', () =>
  expect(cycles(sampled(400, (s) => (s % 7200 < 3600 ? -1500 : 0)))).toBeNull());

it('a gap ends what is known: no run reaches over it', () => {
  const spans = sampled(600, (s) => (s % 3600 < 1800 ? 0 : 500));
  for (let i = 100; i < 110; i++) for (const c of [spans.mean, spans.min, spans.max, spans.last]) c[i] = NaN;
  const got = cycles(spans) ?? [];
  expect(got.some(({ start, end }) => start < 100 * MINUTE && end > 110 * MINUTE)).toBe(false);
  expect(got).toHaveLength(8);
});

it('what is always at one value, or never at rest, has no runs to be told', () => {
  expect(cycles(sampled(200, () => 80))).toBeNull();
  expect(cycles(sampled(400, (s) => 300 + 900 * Math.abs(Math.sin(s * 0.013)))) ?? []).toEqual([]);
  expect(cycleFigures([], 1e9, always)).toBeNull();
});

it('a light that burns for hours on the same circuit is no run of the pump beside it', () => {
  const spans = sampled(4 * 1440, (s) => (s % 3600 < 900 ? 600 : 8) + (s % 43_200 < 21_600 ? 60 : 0));
  const got = cycles(spans) ?? [];
  expect(got.length).toBeGreaterThanOrEqual(94);
  for (const { start, end } of got) expect((end - start) / 1000).toBeCloseTo(900, -1);
});

it('of made-up loads the runs are found with F1 of at least 0.97', () => {
  let [hits, wrong, missed] = [0, 0, 0];
  for (let seed = 1; seed <= 40; seed++) {
    const load = simulatedLoad(seed, 2);
    const got = cycles(load.spans) ?? [];
    const used = new Set<number>();
    for (const { start, end } of load.cycles) {
      const i = got.findIndex(
        (c, k) => !used.has(k) && Math.abs(c.start - start) <= 30_000 && Math.abs(c.end - end) <= 30_000,
      );
      if (i < 0) missed++;
      else used.add(i);
    }
    hits += used.size;
    wrong += got.length - used.size;
  }
  expect((2 * hits) / (2 * hits + wrong + missed)).toBeGreaterThanOrEqual(0.97);
});
