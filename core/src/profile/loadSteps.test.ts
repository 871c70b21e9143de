import { emptySpans, leftOver, loadSteps, type PowerSpans } from './index.js';
import { seeded } from './simulated/index.js';

const MINUTE = 60_000;

/** By the minute, with a meter's noise. */
function spans(minutes: number, watts: (minute: number) => number, noise = 0.5): PowerSpans {
  const random = seeded(5);
  const made = emptySpans(0, MINUTE, minutes);
  for (let i = 0; i < minutes; i++) {
    const w = watts(i) + noise * (random() + random() - 1);
    for (const c of [made.mean, made.min, made.max, made.last]) c[i] = w;
  }
  return made;
}
/** A heater of 1200 W for 18 min each six hours, a pump of 300 W for 40 min each two, over 60 W. */
const heater = (m: number) => (m % 360 >= 100 && m % 360 < 118 ? 1200 : 0);
const pump = (m: number) => (m % 120 >= 30 && m % 120 < 70 ? 300 : 0);
const both = spans(1440, (m) => 60 + heater(m) + pump(m));
const LOADS = [
  { name: 'Heater', watts: 1200 },
  { name: 'Pump', watts: 310 },
];

// What is true is how the power was made up.
it('two loads behind one meter: when each was on, and how long', () => {
  const found = loadSteps(both, LOADS);
  const [heats, pumps] = found.loads;
  expect(heats?.runs.map((r) => [r.start, r.end])).toEqual(
    [100, 460, 820, 1180].map((m) => [m * MINUTE, (m + 18) * MINUTE]),
  );
  expect(pumps?.runs).toHaveLength(12);
  expect(heats?.on).toBe(4 * 18 * MINUTE);
  expect(pumps?.on).toBe(12 * 40 * MINUTE);
  expect(pumps?.energy).toBeCloseTo(310 * 8, 6);
  expect(pumps?.seen).toBeGreaterThan(298);
  expect(pumps?.seen).toBeLessThan(302);
  expect(heats?.sure).toBeGreaterThan(0.95);
  expect(found.unexplained).toEqual([]);
  expect(found.count).toBe(2 * 4 + 2 * 12);
});

it('what nobody has named is told by its height', () => {
  const found = loadSteps(both, [LOADS[0] as (typeof LOADS)[0]]);
  expect(found.unexplained).toHaveLength(24);
  expect(found.groups).toHaveLength(1);
  expect(found.groups[0]).toMatchObject({ ups: 12, downs: 12 });
  expect(Math.abs((found.groups[0]?.watts ?? 0) - 300)).toBeLessThan(3);
});

it('of two loads that are alike it is less sure', () => {
  const alike = loadSteps(both, [
    { name: 'A', watts: 300 },
    { name: 'B', watts: 305 },
  ]);
  const alone = loadSteps(both, [{ name: 'A', watts: 300 }]);
  expect(alone.loads[0]?.sure).toBeGreaterThan(0.9);
  expect(alike.loads[0]?.sure).toBeLessThan((alone.loads[0]?.sure ?? 0) - 0.15);
});

it('what is on at the start or at the end counts as far as it is known, and a gap ends what is known', () => {
  const on = spans(300, (m) => (m < 60 || m >= 200 ? 560 : 60));
  const found = loadSteps(on, [{ name: 'Heater', watts: 500 }]).loads[0];
  expect(found?.runs).toEqual([
    { start: null, end: 60 * MINUTE },
    { start: 200 * MINUTE, end: null },
  ]);
  expect(found?.on).toBe(160 * MINUTE);
  for (let i = 240; i < 260; i++) on.mean[i] = NaN;
  const holed = loadSteps(on, [{ name: 'Heater', watts: 500 }]).loads[0];
  // Behind the gap nothing says that it is still on.
  expect(holed?.on).toBe(100 * MINUTE);
});

it('one constant value and nothing at all have no steps', () => {
  expect(
    loadSteps(
      spans(600, () => 250),
      LOADS,
    ),
  ).toMatchObject({ count: 0, unexplained: [], groups: [] });
  expect(
    loadSteps(
      spans(600, () => NaN),
      LOADS,
    ).loads.map((l) => [l.on, l.sure]),
  ).toEqual([
    [0, 0],
    [0, 0],
  ]);
  expect(loadSteps(emptySpans(0, MINUTE, 0), []).loads).toEqual([]);
});

it('a week of minutes with noise: the time on within 2 %', () => {
  const week = spans(7 * 1440, (m) => 400 + heater(m) + pump(m), 12);
  const [heats, pumps] = loadSteps(week, LOADS).loads;
  expect(Math.abs((heats?.on ?? 0) / (28 * 18 * MINUTE) - 1)).toBeLessThan(0.02);
  expect(Math.abs((pumps?.on ?? 0) / (84 * 40 * MINUTE) - 1)).toBeLessThan(0.02);
});

it('what is metered behind a place is left out of it', () => {
  const left = leftOver(both, [spans(1440, pump, 0)]);
  const found = loadSteps(left, LOADS);
  expect(found.loads.map((l) => l.runs.length)).toEqual([4, 0]);
  const unknown = spans(1440, (m) => (m < 720 ? NaN : 0), 0);
  expect(loadSteps(leftOver(both, [unknown]), LOADS).loads[0]?.on).toBe(2 * 18 * MINUTE);
});

it('one that goes off in the minute in which another comes on', () => {
  // A compressor of 750 W from 60 to 100; the defrost of 1200 W begins as it ends, and 20 min later the compressor again.
  const compressor = (m: number) => ((m >= 60 && m < 100) || (m >= 120 && m < 160) ? 750 : 0);
  const defrost = (m: number) => (m >= 100 && m < 120 ? 1200 : 0);
  const found = loadSteps(
    spans(240, (m) => 50 + compressor(m) + defrost(m)),
    [
      { name: 'Compressor', watts: 755 },
      { name: 'Defrost', watts: 1200 },
    ],
  );
  expect(found.loads.map((l) => l.runs.map((r) => [r.start, r.end]))).toEqual([
    [
      [60 * MINUTE, 100 * MINUTE],
      [120 * MINUTE, 160 * MINUTE],
    ],
    [[100 * MINUTE, 120 * MINUTE]],
  ]);
  expect(found.unexplained).toEqual([]);
});

it('a step that was missed makes no long run', () => {
  // It goes off as an unknown load of its height comes on; that one goes off at 300. At 400 it comes on again.
  const hidden = spans(600, (m) => 60 + (m >= 60 && m < 300 ? 500 : 0) + (m >= 400 && m < 450 ? 500 : 0));
  const one = [{ name: 'Heater', watts: 500 }];
  expect(loadSteps(hidden, one).loads[0]?.on).toBe(290 * MINUTE);
  // It went off with something else at once: no step is its own, and the power that is left is less than it takes.
  const both = spans(600, (m) => 60 + (m >= 60 && m < 300 ? 500 : 0) + (m >= 100 && m < 300 ? 3000 : 0));
  const found = loadSteps(both, one).loads[0];
  expect(found?.runs).toEqual([{ start: 60 * MINUTE, end: null, lost: true }]);
  expect(found?.on).toBe(0);
  expect(found?.sure).toBeLessThan(0.7);
});
