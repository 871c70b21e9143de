import type { Device } from '@loka/contract/devices';
import type { Link } from '@loka/contract/links';
import type { LiveReading, Series } from '@loka/contract/readings';
import { LiveReadings } from '../src/live/liveReadings.js';
import { SampleStore } from '../src/series/sampleStore.js';
import { Loka, until } from './support/loka.js';
import { register } from './support/point.js';
import { makeSite, TestBuilding, type MadeSite } from './support/site.js';

let loka: Loka;
let building: TestBuilding;
let site: MadeSite;

beforeAll(async () => {
  [loka, building] = await Promise.all([Loka.start(), TestBuilding.start()]);
  site = await makeSite(loka, building, ['main-meter', 'clamp-node']);
});
afterAll(async () => {
  await loka.stop();
  await building.stop();
});

const live = (pointId: number): LiveReading | undefined => loka.app.get(LiveReadings).get(pointId);
const stored = async (pointId: number) =>
  (await loka.sql.query('SELECT t, v, q FROM samples WHERE pointId = ? ORDER BY t', [pointId]))[0] as {
    t: number;
    v: number | null;
    q: number;
  }[];

it('a register of a real device becomes a live reading and a stored sample, with no restart', async () => {
  const id = site.point('main-meter', 'voltage-l1');
  const reading = await until('a live voltage', () => live(id));
  expect(reading.q).toBe(0);
  // The building's supply lies within EN 50160's ±10 % of 230 V.
  expect(reading.v).toBeGreaterThan(207);
  expect(reading.v).toBeLessThan(253);
  const rows = await until('three stored samples', async () =>
    (await stored(id)).length >= 3 ? stored(id) : null,
  );
  expect(rows[0]?.v).toBeGreaterThan(207);
});

it('follows the building within two seconds', async () => {
  const id = site.point('clamp-node', 'power-2');
  building.load('hot-water', 'off');
  await until('no power', () => (live(id)?.v ?? 9) < 5);
  building.load('hot-water', 'on');
  const before = Date.now();
  await until('power', () => (live(id)?.v ?? 0) > 2000, 2000);
  expect(Date.now() - before).toBeLessThanOrEqual(2000);
});

it('a repeated delivery changes nothing; another reading in the same millisecond is kept as well', async () => {
  const store = loka.app.get(SampleStore);
  const sample = { pointId: 4_000_000, t: 1_700_000_000_000, v: 1.5, q: 0 };
  store.append([sample, sample]);
  await store.flush();
  const before = store.status();
  store.append([sample, { ...sample, v: 99 }, { ...sample, t: sample.t + 5 }]);
  await store.flush();
  expect((await stored(sample.pointId)).map((r) => r.v)).toEqual([1.5, 99, 1.5]);
  const after = store.status();
  // The building is read meanwhile.
  expect(after.stored - before.stored).toBeGreaterThanOrEqual(2);
  expect(after.moved - before.moved).toBe(1);
  // Once more, one by one, as a broker would that has had no answer.
  for (const again of [{ ...sample, v: 99 }, sample]) {
    store.append([again]);
    await store.flush();
  }
  expect(await stored(sample.pointId)).toHaveLength(3);
});

it('a device that goes away turns its points bad with the reason, and comes back by itself; the gap stays a gap', async () => {
  const id = site.point('main-meter', 'voltage-l2');
  await until('a reading before', () => live(id)?.q === 0);
  await building.fault('main-meter', { kind: 'down' });
  const bad = await until('a bad reading', () => (live(id)?.q ?? 0) >= 0x80 && live(id));
  expect(bad.v).toBeNull();
  const devices = await loka.ask<Device[]>('/devices');
  const health = devices.find((d) => d.id === site.devices['main-meter'])?.health;
  expect(health?.state).toBe('failing');
  expect(health?.fault).toMatch(/refuses port|closed the connection/);
  const clamp = devices.find((d) => d.id === site.devices['clamp-node'])?.health;
  expect(clamp?.state).toBe('answering');
  const from = Date.now() - 3000;
  await until('two seconds of gap', () => Date.now() - from > 5500);
  await building.fault('main-meter', { kind: 'none' });
  await until('good again', () => live(id)?.q === 0, 30_000);
  await loka.app.get(SampleStore).flush();
  const [series] = await loka.ask<Series[]>(
    `/readings?points=${id}&from=${from}&to=${Date.now() + 1000}&width=500`,
  );
  expect(series?.mean).toContain(null);
  expect(series?.mean.at(-1)).toBeGreaterThan(207);
}, 60_000);

it('a silent device is a time-out that says what to look at; the link itself stays up', async () => {
  await building.fault('clamp-node', { kind: 'silent' });
  const id = site.point('clamp-node', 'current-1');
  await until('time-out', () => live(id)?.q === 0x81);
  const device = (await loka.ask<Device[]>('/devices')).find((d) => d.id === site.devices['clamp-node']);
  expect(device?.health.fault).toContain('no answer within 1000 ms');
  await building.fault('clamp-node', { kind: 'none' });
  await until('good again', () => live(id)?.q === 0, 30_000);
}, 60_000);

it('an exception is named by its code, and one refused value does not take the others along', async () => {
  await building.fault('clamp-node', { kind: 'exception', code: 4 });
  const id = site.point('clamp-node', 'current-1');
  await until('exception 4', () => live(id)?.q === 0x94, 30_000);
  await building.fault('clamp-node', { kind: 'none' });
  await until('good again', () => live(id)?.q === 0, 30_000);
  // A map with one register that the device does not have.
  const map = await loka.ask<{ id: number }>('/register-maps', 'POST', {
    name: 'Half right',
    description: '',
    points: [register('good', 100, { kind: 'input' }), register('missing', 105, { kind: 'input' })],
  });
  const links = await loka.ask<Link[]>('/links');
  const device = await loka.ask<{ id: number }>('/devices', 'POST', {
    linkId: links.find((l) => l.name === 'clamp-node')?.id,
    mapId: map.id,
    name: 'Half right',
    unit: 1,
  });
  const points = (await loka.ask<{ id: number; deviceId: number; key: string }[]>('/points')).filter(
    (p) => p.deviceId === device.id,
  );
  const good = points.find((p) => p.key === 'good')?.id ?? 0;
  const missing = points.find((p) => p.key === 'missing')?.id ?? 0;
  await until('the good value', () => live(good)?.q === 0);
  await until('the missing value', () => live(missing)?.q === 0x92);
}, 60_000);
