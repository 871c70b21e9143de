import { rollUp, type Sample } from '@loka/core/series';
import { dayOf } from '@loka/core/time';
import type { NodeEnergy } from '@loka/contract/installation';
import type { Series } from '@loka/contract/readings';
import { IntervalBook } from '../src/series/intervalBook.js';
import { RollupKeeper } from '../src/series/rollupKeeper.js';
import { SampleStore } from '../src/series/sampleStore.js';
import { Loka } from './support/loka.js';
import { makeSite, TestBuilding, type MadeSite } from './support/site.js';

let loka: Loka;
let building: TestBuilding;
let site: MadeSite;
let power: number;

beforeAll(async () => {
  [loka, building] = await Promise.all([Loka.start(), TestBuilding.start()]);
  site = await makeSite(loka, building, ['clamp-node']);
  power = site.point('clamp-node', 'power-2');
  await loka.sql.query('INSERT INTO point_intervals VALUES (?, 0, 1000)', [power]);
  await loka.app.get(IntervalBook).reload();
});
afterAll(async () => {
  await loka.stop();
  await building.stop();
});

const MINUTE = 60_000;
/** Long ago, so that nothing live is in the way. */
const BASE = Date.parse('2025-03-03T10:00:00Z');

async function store(samples: Sample[]): Promise<void> {
  const samplesOf = loka.app.get(SampleStore);
  samplesOf.append(samples.map((s) => ({ pointId: power, ...s })));
  await samplesOf.flush();
  await loka.app.get(RollupKeeper).work();
}
const rollups = async (from: number, to: number) =>
  (
    await loka.sql.query(
      'SELECT t, min, max, mean, count, covered, last FROM rollups_1m WHERE pointId = ? AND t >= ? AND t < ? ORDER BY t',
      [power, from, to],
    )
  )[0] as { t: number; covered: number; mean: number }[];

/** Samples with gaps, bad ones and uneven spacing; the same every time. */
function uneven(base: number, count: number): Sample[] {
  let seed = 42;
  const random = () => (seed = (seed * 1103515245 + 12345) % 2 ** 31) / 2 ** 31;
  let t = base;
  return Array.from({ length: count }, () => {
    t += Math.round(300 + random() * (random() < 0.05 ? 40_000 : 1500));
    const bad = random() < 0.03;
    return { t, v: bad ? null : random() * 3000, q: bad ? 0x81 : 0 };
  });
}

it('the rollups kept along the way are those that core makes of all samples at once', async () => {
  const samples = uneven(BASE, 400);
  // In two deliveries, the later half first: late samples must correct the minutes that they touch.
  await store(samples.slice(200));
  await store(samples.slice(0, 200));
  const end = (samples.at(-1) as Sample).t + 10_000;
  const kept = await rollups(BASE, end);
  const expected: { t: number; mean: number; covered: number }[] = [];
  for (let t = Math.floor(BASE / MINUTE) * MINUTE; t < end; t += MINUTE) {
    const rollup = rollUp(samples, t, t + MINUTE, () => 2500);
    if (rollup) expected.push({ ...rollup, covered: Math.round(rollup.covered) });
  }
  expect(kept).toHaveLength(expected.length);
  kept.forEach((row, i) => {
    expect(row.t).toBe(expected[i]?.t);
    expect(row.covered).toBe(expected[i]?.covered);
    expect(row.mean).toBeCloseTo(expected[i]?.mean ?? NaN, 6);
  });
});

it('what was not yet rolled up at a stop is caught up at the next start', async () => {
  const base = Date.now() - 10 * MINUTE;
  const samplesOf = loka.app.get(SampleStore);
  samplesOf.append(
    Array.from({ length: 60 }, (_, i) => ({ pointId: power, t: base + i * 1000, v: 500, q: 0 })),
  );
  await samplesOf.flush(); // stored, and stopped before the rollups are worked off
  await loka.sql.query('DELETE FROM rollups_1m WHERE t >= ?', [base - 2 * MINUTE]);
  await loka.halt();
  loka = await Loka.start(loka.config);
  await loka.app.get(RollupKeeper).work();
  const kept = await rollups(base - MINUTE, base + 2 * MINUTE);
  expect(kept.reduce((sum, r) => sum + r.covered, 0)).toBeGreaterThanOrEqual(59_000);
});

it('energy follows the site’s day of 25 hours', async () => {
  const day = dayOf('Europe/Lisbon', '2025-10-26');
  expect(day.end - day.start).toBe(25 * 3_600_000);
  await loka.sql.query('REPLACE INTO point_intervals VALUES (?, ?, 60000)', [power, day.start - MINUTE]);
  await loka.sql.query('REPLACE INTO point_intervals VALUES (?, ?, 1000)', [power, day.end + MINUTE]);
  await loka.app.get(IntervalBook).reload();
  const minutes = (day.end - day.start) / MINUTE;
  // 600 W from the hour before to the hour after: only the day's 25 hours may count.
  await store(
    Array.from({ length: minutes + 120 }, (_, i) => ({ t: day.start + (i - 60) * MINUTE, v: 600, q: 0 })),
  );
  const energy = (await loka.ask<NodeEnergy[]>(`/energy?from=${day.start}&to=${day.end}`)).find(
    (e) => e.nodeId === site.circuit,
  );
  expect(energy?.energy).toBeCloseTo(600 * 25, 6);
  expect(energy?.coverage).toBe(1);
});

it('answers a chart from the level that fits it, and blocks of a fixed length', async () => {
  const day = dayOf('Europe/Lisbon', '2025-10-26');
  const ask = async (more: string) =>
    (
      await loka.ask<Series[]>(`/readings?points=${power}&from=${day.start}&to=${day.end}&${more}`)
    )[0] as Series;
  const wide = await ask('width=100');
  expect(wide.step).toBe(15 * MINUTE);
  const blocks = await ask('block=60');
  expect(blocks.step).toBe(60 * MINUTE);
  expect(blocks.t).toHaveLength(25);
  expect(blocks.t[0]).toBe(day.start);
  expect(new Set(blocks.mean)).toEqual(new Set([600]));
  const close = (
    await loka.ask<Series[]>(`/readings?points=${power}&from=${BASE}&to=${BASE + 600_000}&width=900`)
  )[0] as Series;
  expect(close.step).toBe(0); // single readings
});

it('a quarter of an hour without readings is a gap in the small drawing, not a zero', async () => {
  const from = BASE - 24 * 3_600_000;
  const lines = await loka.ask<{ nodeId: number; values: (number | null)[] }[]>(
    `/energy/sparklines?from=${from}&to=${BASE + 15 * MINUTE}`,
  );
  const values = lines.find((l) => l.nodeId === site.circuit)?.values ?? [];
  expect(values).toHaveLength(96);
  expect(values.slice(0, 90).every((v) => v === null)).toBe(true);
  expect(values.at(-1)).toBeGreaterThan(0);
});
