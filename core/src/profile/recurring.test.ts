import { levelsOf } from './levels.js';
import { recurrenceOf } from './recurring.js';
import { comings, strays } from './simulated/index.js';
import { emptySpans } from './powerSpans.js';
import { visitsOf } from './visits.js';

const HOUR = 3_600_000;

it('every six hours, with two that fell in a gap', () => {
  const times = Array.from({ length: 120 }, (_, i) => i * 6 * HOUR + 4 * 60_000).filter(
    (_, i) => i !== 40 && i !== 41,
  );
  const gap = (t: number) => t < 40 * 6 * HOUR || t > 42 * 6 * HOUR;
  const got = recurrenceOf(times, gap);
  expect(got?.period).toBeCloseTo(6 * HOUR, -1);
  expect([got?.seen, got?.expected]).toEqual([118, 118]);
  expect(got?.chance).toBeLessThan(1e-20);
  expect(recurrenceOf(times)?.expected).toBe(120);
});

it('fewer than four, all at once, and none are no recurrence', () => {
  expect(recurrenceOf([0, HOUR, 2 * HOUR])).toBeNull();
  expect(recurrenceOf([5, 5, 5, 5, 5, 5])).toBeNull();
  expect(recurrenceOf([])).toBeNull();
});

it('periods are found to 2 % with instants that are late by a little and some that are missing', () => {
  let [found, all] = [0, 0];
  for (let seed = 1; seed <= 100; seed++) {
    const { period, times } = comings(seed);
    if (times.length < 4) continue;
    all++;
    const got = recurrenceOf(times);
    if (got && Math.abs(got.period / period - 1) < 0.02) found++;
  }
  expect(found / all).toBeGreaterThanOrEqual(0.95);
});

it('of what comes by chance, or at irregular distances, none is claimed in at least 98 %', () => {
  let claimed = 0;
  for (let seed = 1; seed <= 200; seed++) if (recurrenceOf(strays(seed))) claimed++;
  expect(claimed).toBeLessThanOrEqual(4);
});

it('visits of a level: when, for how long and with how much energy', () => {
  const spans = emptySpans(0, 60_000, 2880);
  for (let i = 0; i < spans.length; i++)
    for (const c of [spans.mean, spans.min, spans.max, spans.last])
      c[i] = i % 360 < 18 ? 1250 : i % 60 < 24 ? 800 : 46;
  const levels = levelsOf(spans);
  const visits = visitsOf(spans, levels, 2);
  expect(visits).toHaveLength(8);
  expect(visits[1]).toMatchObject({ start: 6 * HOUR, end: 6 * HOUR + 18 * 60_000 });
  expect(visits[1]?.energy).toBeCloseTo(375, 9);
  expect(recurrenceOf(visits.map((v) => v.start))?.period).toBeCloseTo(6 * HOUR, 0);
});
