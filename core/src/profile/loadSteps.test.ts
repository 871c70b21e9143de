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
  // By its steps of 300 W, whatever its plate says.
  expect((pumps?.energy ?? 0) / (300 * 8)).toBeCloseTo(1, 2);
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
  const runs = [
    [0, 60],
    [200, 230],
    [400, 430],
    [600, 700],
  ] as const;
  const on = spans(700, (m) => 60 + (runs.some(([from, to]) => m >= from && m < to) ? 500 : 0));
  const heater = [{ name: 'Heater', watts: 520 }];
  const found = loadSteps(on, heater).loads[0];
  expect(found?.runs).toEqual([
    { start: null, end: 60 * MINUTE },
    { start: 200 * MINUTE, end: 230 * MINUTE },
    { start: 400 * MINUTE, end: 430 * MINUTE },
    { start: 600 * MINUTE, end: null },
  ]);
  expect(found?.on).toBe(220 * MINUTE);
  for (let i = 640; i < 660; i++) on.mean[i] = NaN;
  // Behind the gap nothing says that it is still on.
  expect(loadSteps(on, heater).loads[0]?.on).toBe(160 * MINUTE);
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
  // A compressor of 750 W for 40 min of each hour, a defrost of 1200 W for 12 min, twice as that ends, twice while it rests.
  const defrosts = (m: number) => [40, 344, 640, 944].some((from) => m >= from && m < from + 12);
  const compressor = (m: number) => m % 60 < 40 && !defrosts(m);
  const found = loadSteps(
    spans(1200, (m) => 50 + (compressor(m) ? 750 : 0) + (defrosts(m) ? 1200 : 0)),
    [
      { name: 'Compressor', watts: 755 },
      { name: 'Defrost', watts: 1200 },
    ],
  );
  expect(found.loads[1]?.runs).toEqual(
    [40, 344, 640, 944].map((from) => ({ start: from * MINUTE, end: (from + 12) * MINUTE })),
  );
  expect(found.loads[0]?.on).toBe(20 * 40 * MINUTE);
  expect(found.unexplained).toEqual([]);
});

it('a step that was missed makes no long run', () => {
  const heater = [{ name: 'Heater', watts: 500 }];
  // It comes for 20 min each two hours; once it goes off in the minute in which something of 3 kW does, which came meanwhile.
  const comes = (m: number) => (m % 120 >= 60 && m % 120 < 80 ? 500 : 0);
  const power = (m: number) => 60 + comes(m) + (m >= 550 && m < 560 ? 3000 : 0);
  const found = loadSteps(spans(1200, power), heater).loads[0];
  expect(found?.runs).toHaveLength(10);
  expect(found?.runs[4]).toEqual({ start: 540 * MINUTE, end: null, lost: true });
  expect(found?.on).toBe(9 * 20 * MINUTE);
});

it('what chance would bring about as well is not claimed', () => {
  // A hundred strangers, each of another height, beside twelve loads that never come.
  const random = seeded(3);
  const height = () => 100 * Math.exp(random() * Math.log(30));
  const strangers = Array.from({ length: 100 }, height);
  const known = Array.from({ length: 12 }, (_, i) => ({ name: `L${i}`, watts: height() }));
  const busy = spans(
    3000,
    (m) => 50 + (m % 30 >= 10 && m % 30 < 20 ? (strangers[Math.floor(m / 30)] as number) : 0),
  );
  const found = loadSteps(busy, known);
  expect(found.loads.filter((l) => l.runs.length > 0).length).toBeLessThanOrEqual(1);
  expect(found.unexplained.length).toBeGreaterThan(0.9 * found.count);
  // One that truly comes stands out anyway.
  const pump = spans(3000, (m) => (busy.mean[m] as number) + (m % 240 >= 92 && m % 240 < 98 ? 640 : 0));
  expect(loadSteps(pump, [{ name: 'Pump', watts: 640 }]).loads[0]?.runs.length).toBeGreaterThanOrEqual(10);
});
