import type { HealthReport } from '@loka/contract/health';
import type { Device } from '@loka/contract/devices';
import type { MadeLink } from '@loka/contract/links';
import type { Point } from '@loka/contract/points';
import { existsSync, mkdtempSync, readFileSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startMariadb, type RunningMariadb } from '../../scripts/lib/mariadb.mjs';
import { LiveReadings } from '../src/live/liveReadings.js';
import { Loka, until } from './support/loka.js';
import { makeMap, message, nameSite } from './support/point.js';
import { Mosquitto } from './support/programs.js';

// Neither a database nor room on the disk: the spool is /dev/full, which takes nothing, as a full disk does.
let database: RunningMariadb;
let broker: Mosquitto;
let folder: string;
let loka: Loka;
let link: MadeLink;
let spool: string;
let power: Point;
let meter: Point;

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'loka-full-'));
  [database, broker] = await Promise.all([startMariadb(folder, { fast: true }), Mosquitto.start()]);
  const config = Loka.on(database, 'loka_full');
  spool = join(config.dataFolder, 'spool', 'samples.ndjson');
  loka = await Loka.start(config);
  await nameSite(loka);
  link = await loka.ask<MadeLink>('/links', 'POST', { name: 'Door', kind: 'http-push' });
  const mqtt = await loka.ask<MadeLink>('/links', 'POST', {
    name: 'Broker',
    kind: 'mqtt',
    host: 'localhost',
    port: broker.port,
    clientId: 'loka-full',
  });
  const mapId = await makeMap(loka, 'Logger', {
    messages: [
      message('power', { topic: '{device}:power', pointer: '', quantity: 'active-power', unit: 'W' }),
    ],
  });
  const own = await makeMap(loka, 'Meter', {
    messages: [
      message('timed', {
        topic: '{device}/timed',
        pointer: '/v',
        timePointer: '/at',
        quantity: 'active-power',
        unit: 'W',
      }),
    ],
  });
  const device = async (linkId: number, map: number, topic: string) => {
    const { id } = await loka.ask<Device>('/devices', 'POST', { linkId, mapId: map, name: topic, topic });
    return (await loka.ask<Point[]>('/points')).find((p) => p.deviceId === id) as Point;
  };
  power = await device(link.id, mapId, 'oven');
  meter = await device(mqtt.id, own, 'meter');
  await until('the door', async () => (await post(1)).status === 200);
  await until('the broker', async () => {
    await broker.publish('meter/timed', JSON.stringify({ v: 1, at: Date.now() }), '-q', '1');
    return loka.app.get(LiveReadings).get(meter.id) !== undefined;
  });
}, 120_000);
afterAll(async () => {
  await loka.stop();
  await broker.stop();
  await database.stop();
  rmSync(folder, { recursive: true, force: true });
});

let at = Math.floor(Date.now() / 1000) - 3000;
const post = (v: number) =>
  loka.raw(`/push/${link.id}`, 'POST', [{ n: 'oven:power', t: at++, v }], {
    authorization: `Bearer ${link.token}`,
  });
const health = () => loka.ask<HealthReport>('/health');
const stored = async (point: Point): Promise<number[]> =>
  (
    (await loka.sql.query('SELECT v FROM samples WHERE pointId = ? ORDER BY t', [point.id]))[0] as {
      v: number;
    }[]
  ).map((r) => r.v);

it('nothing is acknowledged that could not be kept; it is said; what was held in memory is stored when there is room', async () => {
  // What is under way when the database goes would make the spool.
  await until('all of it stored', async () => (await health()).samples.waiting === 0);
  await database.pause();
  symlinkSync('/dev/full', spool);
  await until('that it is not kept', async () => (await post(10)).status === 503, 30_000);
  expect(await post(11)).toMatchObject({
    status: 503,
    body: { detail: expect.stringMatching(/could not be kept.*ENOSPC/) },
  });
  // Also while it is tried again, which is most of the time.
  const end = Date.now() + 5000;
  while (Date.now() < end) {
    const said = await health();
    expect(said.samples.unkept).toMatch(/ENOSPC/);
    expect(said.samples.waiting).toBeGreaterThan(0);
    expect(said.matters.map((m) => m.kind)).toEqual(expect.arrayContaining(['database', 'memory']));
  }
  // Over the broker: it is seen, and not acknowledged.
  const t = Date.now();
  await broker.publish('meter/timed', JSON.stringify({ v: 77, at: t }), '-q', '1');
  await until('it is seen', () => loka.app.get(LiveReadings).get(meter.id)?.v === 77);
  // Room on the disk, and no database yet: from here on it is kept there.
  rmSync(spool);
  await until('that it is kept', async () => (await post(12)).status === 200, 30_000);
  expect(readFileSync(spool, 'utf8').split('\n').length).toBeGreaterThan(3);
  expect((await health()).samples.unkept).toBeNull();
  await database.resume();
  await until(
    'the spool to be empty',
    async () => (await health()).spool.samples === 0 && !existsSync(spool),
    60_000,
  );
  expect(await stored(power)).toEqual(expect.arrayContaining([10, 11, 12]));
  await until('it is stored', async () => (await stored(meter)).includes(77));
  // What was held and brought once more is there once.
  expect((await stored(meter)).filter((v) => v === 77)).toHaveLength(1);
  await until('that it goes on', async () => {
    await broker.publish('meter/timed', JSON.stringify({ v: 78, at: Date.now() }), '-q', '1');
    return (await stored(meter)).includes(78);
  });
  expect((await health()).spool.lost).toBe(0);
}, 180_000);
