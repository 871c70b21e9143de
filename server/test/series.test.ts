import { emptySlots, meanAt, type Sample } from '@loka/core/series';
import { dayOf } from '@loka/core/time';
import type { NodeEnergy } from '@loka/contract/energy';
import type { Series } from '@loka/contract/readings';
import { IntervalBook } from '../src/series/intervalBook.js';
import { RollupWorker } from '../src/series/rollupWorker.js';
import { Pages } from '../src/series/pages.js';
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
  await loka.app.get(RollupWorker).work();
}
/** The minutes of rollups of a point that hold something, as they lie in the database. */
async function rollups(from: number, to: number, pointId = power) {
  const kept: { t: number; covered: number; mean: number }[] = [];
  const start = Math.floor(from / MINUTE) * MINUTE;
  const slots = emptySlots(start, MINUTE, Math.ceil((to - start) / MINUTE));
  await loka.app.get(Pages).intoSlots('minutes', new Map([[pointId, slots]]), start, to, 'all');
  for (let i = 0; i < slots.length; i++) {
    const t = slots.start + i * MINUTE;
    if ((slots.covered[i] as number) > 0 && t >= from && t < to)
      kept.push({ t, covered: slots.covered[i] as number, mean: meanAt(slots, i) });
  }
  return kept;
}

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

/** Minutes of samples by stepping through them in tens of milliseconds: a mean that knows nothing of rollups. */
function byMilliseconds(samples: readonly Sample[], start: number, end: number) {
  const minutes: { t: number; covered: number; mean: number }[] = [];
  const step = 1;
  let at = -1;
  for (let minute = start; minute < end; minute += MINUTE) {
    let [covered, sum] = [0, 0];
    for (let t = minute; t < minute + MINUTE; t += step) {
      while (at + 1 < samples.length && (samples[at + 1] as Sample).t <= t) at++;
      const sample = samples[at];
      if (!sample || sample.v === null || t - sample.t >= 2500) continue;
      covered += step;
      sum += sample.v * step;
    }
    if (covered > 0) minutes.push({ t: minute, covered, mean: sum / covered });
  }
  return minutes;
}

it('the rollups kept along the way are those of all samples at once', async () => {
  const samples = uneven(BASE, 400);
  // In two deliveries, the later half first: late samples must correct the minutes that they touch.
  await store(samples.slice(200));
  await store(samples.slice(0, 200));
  const end = (samples.at(-1) as Sample).t + 10_000;
  const kept = await rollups(BASE, end);
  // The same by another way: second by second, the newest sample that still speaks.
  const expected = byMilliseconds(samples, Math.floor(BASE / MINUTE) * MINUTE, end);
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
  await loka.halt();
  loka = await Loka.start(loka.config);
  await loka.app.get(RollupWorker).work();
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
  expect(energy?.net).toBeCloseTo(600 * 25, 6);
  expect(energy?.coverage).toBe(1);
});

it('answers a chart from the level that fits it, and blocks of a fixed length', async () => {
  const day = dayOf('Europe/Lisbon', '2025-10-26');
  const ask = async (more: string) =>
    (
      await loka.ask<Series[]>(`/readings?points=${power}&from=${day.start}&to=${day.end}&${more}`)
    )[0] as Series;
  // Recorded once a minute then: 1500 readings are few enough to be sent as they are, whatever the interval is now.
  const single = await ask('width=1000');
  expect([single.step, single.t.length]).toEqual([0, 1500]);
  // More than can be drawn is answered by the pixel.
  const thin = await ask('width=100');
  expect([thin.step, thin.t.length]).toEqual([15 * MINUTE, 100]);
  const [wide] = await loka.ask<Series[]>(
    `/readings?points=${power}&from=${day.start - 200 * 86_400_000}&to=${day.end}&width=1000`,
  );
  expect((wide as Series).step % (15 * MINUTE)).toBe(0);
  expect((wide as Series).mean.at(-1)).toBeCloseTo(600, 9);
  const blocks = await ask('block=60');
  expect(blocks.step).toBe(60 * MINUTE);
  expect(blocks.t).toHaveLength(25);
  expect(blocks.t[0]).toBe(day.start);
  expect(new Set(blocks.mean)).toEqual(new Set([600]));
  expect(new Set(blocks.count)).toEqual(new Set([60]));
  expect(new Set(blocks.covered)).toEqual(new Set([60 * MINUTE]));
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
