import type { EnergyCalendar, NodeEnergy } from '@loka/contract/energy';
import type { Point } from '@loka/contract/points';
import type { Series } from '@loka/contract/readings';
import { newMessage } from '@loka/core/messages';
import { until } from './support/loka.js';
import { Crashing, seeded } from './support/crash.js';

// Twenty kills, of the server and of the database, while late and live samples arrive. Afterwards everything that was
// acknowledged is there, and what the interface says of it is what a naive computation over the samples gives.
const KILLS = 20;
const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const INTERVAL = 10_000;
const HOLD = 25_000;

let crashing: Crashing;
let door: string;
let token: string;
let place: number;
let points: Point[];
beforeAll(async () => {
  crashing = await Crashing.start();
  const ask = <T>(path: string, body: unknown, method = 'POST') => crashing.ask<T>(path, method, body);
  await ask(
    '/site',
    { name: 'Crash', timeZone: 'UTC', nominalVoltage: 230, frequency: 50, conductorScheme: 'iec-60445' },
    'PUT',
  );
  place = (
    await ask<{ id: number }>('/installation', {
      kind: 'supply',
      parentId: null,
      name: 'Supply',
      way: '',
      phases: 'L1',
      protectiveDevice: null,
      ratedCurrent: 63,
    })
  ).id;
  const link = await ask<{ id: number }>('/links', {
    kind: 'http-push',
    name: 'Door',
    host: '',
    port: 80,
    enabled: true,
    timeoutMs: 1000,
  });
  token = (await ask<{ token: string }>(`/links/${link.id}/token`, {})).token;
  door = `/push/${link.id}`;
  const value = (key: string, more: object) =>
    newMessage({ key, topic: 'urn:m:' + key, pointer: '', intervalMs: INTERVAL, ...more });
  const map = await ask<{ id: number }>('/register-maps', {
    name: 'Pushed',
    description: '',
    points: [],
    messages: [
      value('power', { quantity: 'active-power', unit: 'W', phase: 'L1' }),
      value('counter', { quantity: 'energy-import', unit: 'Wh', phase: 'total' }),
    ],
  });
  const device = await ask<{ id: number }>('/devices', {
    linkId: link.id,
    mapId: map.id,
    name: 'Pusher',
    unit: 1,
    topic: '',
  });
  await ask(`/devices/${device.id}/assignment`, { nodeId: place }, 'PUT');
  points = (await crashing.ask<Point[]>('/points')).filter((p) => p.deviceId === device.id);
  await ask('/virtual-meters', {
    name: 'Twice',
    formula: '2 * p',
    inputs: [{ name: 'p', pointId: points.find((p) => p.key === 'power')?.id }],
    quantity: 'active-power',
    phase: null,
    nodeId: null,
    intervalMs: INTERVAL,
  });
}, 120_000);
afterAll(() => crashing.stop());

interface Row {
  t: number;
  v: number;
}
const idOf = (key: string) => points.find((p) => p.key === key)?.id as number;
/** What the meter reads at an instant: 1 to 3 kW, and a counter of 2 kW in whole Wh. */
const powerAt = (t: number) => 2000 + 1000 * Math.sin(t / 700_000);
const counterAt = (t: number, begin: number) => 1_000_000 + Math.floor((2 * (t - begin)) / 3600);

it('twenty kills later nothing that was acknowledged is missing, and every figure is that of the samples', async () => {
  const random = seeded(20);
  const begin = Date.now() - 3 * HOUR;
  const acknowledged: { key: string; t: number; v: number }[] = [];
  let feeding = true;
  const post = async (at: number[]) => {
    const pack = at.flatMap((t) => [
      { bn: 'urn:m:', bt: t / 1000, n: 'power', u: 'W', v: powerAt(t) },
      { bn: 'urn:m:', bt: t / 1000, n: 'counter', u: 'Wh', v: counterAt(t, begin) },
    ]);
    await crashing.ask(door, 'POST', pack, { authorization: `Bearer ${token}` });
    for (const t of at)
      acknowledged.push({ key: 'power', t, v: powerAt(t) }, { key: 'counter', t, v: counterAt(t, begin) });
  };
  const feed = (async () => {
    while (feeding) {
      // Five of the last three hours, and the present one.
      const late = Array.from({ length: 5 }, () => Math.floor(begin + random() * (Date.now() - begin)));
      const refused = await post([...late, Date.now()]).then(
        () => false,
        () => true,
      );
      await new Promise((resolve) => setTimeout(resolve, refused ? 100 : 20));
    }
  })();
  for (let kill = 0; kill < KILLS; kill++) {
    const before = acknowledged.length;
    await until(`readings taken after kill ${kill}`, () => acknowledged.length > before + 12, 60_000);
    await new Promise((resolve) => setTimeout(resolve, random() * 900));
    const what = random();
    if (what < 0.45) await crashing.killServer();
    else if (what < 0.85) await crashing.database.kill();
    else await Promise.all([crashing.killServer(), crashing.database.kill()]);
    if (what >= 0.45) await crashing.database.resume();
    if (what < 0.45 || what >= 0.85) await crashing.startServer();
  }
  feeding = false;
  await feed;
  const sql = await crashing.sql();
  // What lies in the spool is brought in, and what is due and over is rolled up.
  await until(
    'the spool to be empty',
    async () => (await crashing.ask<{ spool: { samples: number } }>('/health')).spool.samples === 0,
    60_000,
  );
  await until(
    'the marks to be worked off',
    async () => {
      const [[row]] = (await sql.query('SELECT COUNT(*) AS n FROM rollup_due WHERE minute < ?', [
        Math.floor((Date.now() - 5000) / MINUTE) * MINUTE,
      ])) as unknown as [[{ n: number }]];
      return row.n === 0;
    },
    60_000,
  );
  const samples = async (id: number) =>
    (
      await sql.query('SELECT t, v FROM samples WHERE pointId = ? AND v IS NOT NULL ORDER BY t', [id])
    )[0] as Row[];
  const [power, counter] = [await samples(idOf('power')), await samples(idOf('counter'))];
  const stored = {
    power: new Map(power.map((s) => [s.t, s.v])),
    counter: new Map(counter.map((s) => [s.t, s.v])),
  };
  expect(acknowledged.length).toBeGreaterThan(KILLS * 12);
  const missing = acknowledged.filter(
    (a) =>
      Math.abs((stored[a.key as 'power'].get(a.t) ?? NaN) - a.v) > 1e-9 || !stored[a.key as 'power'].has(a.t),
  );
  expect(missing).toEqual([]);

  const end = Math.floor((Date.now() - 10_000) / MINUTE) * MINUTE;
  const start = Math.floor(begin / MINUTE) * MINUTE;
  const minuteOf = async (id: number) =>
    (await crashing.ask<Series[]>(`/readings?points=${id}&from=${start}&to=${end}&block=1`))[0] as Series;
  const naive = minutesOf(power, start, end);
  compare(await minuteOf(idOf('power')), naive);
  const twice = (await crashing.ask<Point[]>('/points')).find((p) => p.definition.name === 'Twice')
    ?.id as number;
  const grid = onGrid(power, start, end).map((s) => ({ t: s.t, v: 2 * s.v }));
  compare(await minuteOf(twice), minutesOf(grid, start, end), true);

  const energy = (await crashing.ask<NodeEnergy[]>(`/energy?from=${start}&to=${end}`)).find(
    (e) => e.nodeId === place,
  );
  const wattHours = [...naive.values()].reduce((sum, m) => sum + (m.mean * m.covered) / HOUR, 0);
  expect(energy?.source).toBe('counter');
  expect(energy?.other?.import).toBeCloseTo(wattHours, 6);
  const counted = (from: number, to: number) => readAt(counter, to) - readAt(counter, from);
  expect(energy?.import).toBeCloseTo(counted(start, end), 6);
  const calendar = await crashing.ask<EnergyCalendar>(
    `/energy/calendar?from=${start}&to=${end}&step=quarter`,
  );
  const own = calendar.nodes.find((n) => n.nodeId === place);
  own?.import.forEach((wh, i) =>
    expect(wh).toBeCloseTo(counted(calendar.borders[i] as number, calendar.borders[i + 1] as number), 6),
  );
  await sql.end();
}, 600_000);

/** Minutes of samples: each speaks until the next one, at most for its hold. */
function minutesOf(samples: readonly Row[], start: number, end: number) {
  const minutes = new Map<number, { covered: number; mean: number }>();
  samples.forEach((sample, i) => {
    const to = Math.min(samples[i + 1]?.t ?? Infinity, sample.t + HOLD, end);
    for (let from = Math.max(sample.t, start); from < to;) {
      const minute = Math.floor(from / MINUTE) * MINUTE;
      const part = Math.min(to, minute + MINUTE) - from;
      const before = minutes.get(minute) ?? { covered: 0, mean: 0 };
      const covered = before.covered + part;
      minutes.set(minute, { covered, mean: (before.mean * before.covered + sample.v * part) / covered });
      from += part;
    }
  });
  return minutes;
}

/** The newest sample that speaks, at every multiple of the interval. */
function onGrid(samples: readonly Row[], start: number, end: number): Row[] {
  const rows: Row[] = [];
  let at = -1;
  for (let t = Math.ceil((start - HOUR) / INTERVAL) * INTERVAL; t < end; t += INTERVAL) {
    while (at + 1 < samples.length && (samples[at + 1] as Row).t <= t) at++;
    const sample = samples[at];
    if (sample && t - sample.t <= HOLD) rows.push({ t, v: sample.v });
  }
  return rows;
}

/** The counter at an instant, on the straight line between the readings beside it. */
function readAt(counter: readonly Row[], t: number): number {
  const next = counter.findIndex((row) => row.t >= t);
  if (next <= 0) return (counter[next < 0 ? counter.length - 1 : 0] as Row).v;
  const [a, b] = [counter[next - 1] as Row, counter[next] as Row];
  return a.v + ((b.v - a.v) * (t - a.t)) / (b.t - a.t);
}

function compare(
  series: Series,
  naive: Map<number, { covered: number; mean: number }>,
  gapsEndEarlier = false,
): void {
  const seen = new Map(series.t.flatMap((t, i) => (series.mean[i] === null ? [] : [[t, i] as const])));
  for (const [minute, { covered, mean }] of naive) {
    const i = seen.get(minute);
    // A computed value whose inputs have gone is followed by one that says so, within its hold.
    if (gapsEndEarlier && (i === undefined || (series.covered[i] as number) < covered)) continue;
    expect([minute, i === undefined ? 0 : series.covered[i]]).toEqual([minute, covered]);
    expect(series.mean[i as number]).toBeCloseTo(mean, 6);
  }
  for (const minute of seen.keys()) expect(naive.has(minute)).toBe(true);
}
