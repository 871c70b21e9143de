import type { Device } from '@loka/contract/devices';
import type { Point } from '@loka/contract/points';
import type { InstallationNode } from '@loka/contract/installation';
import type { RegisterMap } from '@loka/contract/registers';
import { checkMessages } from '@loka/core/messages';
import { checkMap } from '@loka/core/registers';
import { LiveReadings } from '../src/live/liveReadings.js';
import { SHIPPED_MAPS } from '../src/registers/shippedMaps.js';
import { Loka, until } from './support/loka.js';
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

const live = (id: number) => loka.app.get(LiveReadings).get(id);
const clampMap = async () =>
  (await loka.ask<RegisterMap[]>('/register-maps')).find((m) =>
    m.name.startsWith('Four-channel'),
  ) as RegisterMap;
const pointsOf = async (device: number | undefined) =>
  (await loka.ask<Point[]>('/points')).filter((p) => p.deviceId === device);
const save = (map: RegisterMap, points: RegisterMap['points']) =>
  loka.ask(`/register-maps/${map.id}`, 'PUT', { name: map.name, description: map.description, points });

it.each(SHIPPED_MAPS.map((m) => [m.name, m] as const))(
  'the shipped map “%s” has nothing wrong with it',
  (_name, { points = [], messages = [] }) => {
    expect(points.length + messages.length).toBeGreaterThan(0);
    expect(checkMessages(messages)).toEqual([]);
    expect(checkMap(points)).toEqual([]);
  },
);

it('a changed map changes the readings of its devices, with no restart', async () => {
  const id = site.point('clamp-node', 'current-1');
  await until('a reading', () => live(id)?.q === 0);
  const map = await clampMap();
  expect(map.deviceIds).toEqual([site.devices['clamp-node']]);
  const before = live(id)?.raw as number;
  // A clamp for 120 A in place of the one for 60 A: the same counts are twice the current.
  await save(
    map,
    map.points.map((p) =>
      p.key === 'current-1'
        ? { ...p, scaling: { kind: 'pairs', raw1: 0, value1: 0, raw2: 9999, value2: 120 } }
        : p,
    ),
  );
  await until('the new scaling', () => Math.abs((live(id)?.raw ?? 0) / before - 2) < 0.2);
  expect((await pointsOf(site.devices['clamp-node'])).find((p) => p.key === 'current-1')?.id).toBe(id);
});

it('a value taken off keeps its readings, and put back it is the same point again', async () => {
  const id = site.point('clamp-node', 'power-factor-4');
  await until(
    'a stored reading',
    async () =>
      ((await loka.sql.query('SELECT 1 FROM samples WHERE pointId = ? LIMIT 1', [id]))[0] as unknown[])
        .length > 0,
  );
  const map = await clampMap();
  await save(
    map,
    map.points.filter((p) => p.key !== 'power-factor-4'),
  );
  expect((await pointsOf(site.devices['clamp-node'])).some((p) => p.id === id)).toBe(false);
  expect(
    ((await loka.sql.query('SELECT 1 FROM samples WHERE pointId = ? LIMIT 1', [id]))[0] as unknown[]).length,
  ).toBe(1);
  await save(map, map.points);
  expect((await pointsOf(site.devices['clamp-node'])).some((p) => p.id === id)).toBe(true);
});

it('notes from when on a point is polled at another interval', async () => {
  const id = site.point('clamp-node', 'current-3');
  const map = await clampMap();
  await save(
    map,
    map.points.map((p) => (p.key === 'current-3' ? { ...p, intervalMs: 5000 } : p)),
  );
  const [rows] = await loka.sql.query(
    'SELECT intervalMs FROM point_intervals WHERE pointId = ? ORDER BY validFrom',
    [id],
  );
  expect(rows).toEqual([{ intervalMs: 1000 }, { intervalMs: 5000 }]);
});

it('a device taken off is silent, and can be put back with its points where they were', async () => {
  const id = site.devices['clamp-node'] as number;
  const current = site.point('clamp-node', 'current-2');
  await loka.ask(`/devices/${id}`, 'DELETE');
  expect((await loka.ask<Device[]>('/devices')).some((d) => d.id === id)).toBe(false);
  expect(live(current)).toBeUndefined();
  await loka.ask(`/devices/${id}/restore`, 'POST');
  await until('a reading again', () => live(current)?.q === 0);
  expect((await pointsOf(id)).find((p) => p.id === current)).toMatchObject({
    nodeId: site.circuit,
    phase: 'L1',
  });
});

it('a link in use cannot be removed, and one that is switched off is not polled', async () => {
  const link = (
    await loka.ask<{ id: number; name: string; host: string; port: number; timeoutMs: number }[]>('/links')
  ).find((l) => l.name === 'main-meter');
  expect(await loka.raw(`/links/${link?.id}`, 'DELETE')).toMatchObject({
    status: 409,
    body: { detail: expect.stringContaining('Switch the link off') },
  });
  const id = site.point('main-meter', 'frequency');
  await until('a reading', () => live(id)?.q === 0);
  const { id: _id, ...input } = { ...(link as NonNullable<typeof link>) };
  const body = { name: input.name, host: input.host, port: input.port, timeoutMs: input.timeoutMs };
  await loka.ask(`/links/${link?.id}`, 'PUT', { ...body, enabled: false });
  await until('silence', () => live(id) === undefined);
  await loka.ask(`/links/${link?.id}`, 'PUT', { ...body, enabled: true });
  await until('a reading again', () => live(id)?.q === 0);
});

describe('the tree', () => {
  const node = (over: object) =>
    loka.raw('/installation', 'POST', {
      kind: 'circuit',
      parentId: null,
      name: 'New',
      way: '9',
      phases: 'L1',
      protectiveDevice: 'B',
      ratedCurrent: 16,
      ...over,
    });
  const all = () => loka.ask<InstallationNode[]>('/installation');

  it('says how far the job at a circuit is', async () => {
    const circuit = await until('a connected circuit', async () =>
      (await all()).find((n) => n.id === site.circuit && n.job.connected && n.job.logging),
    );
    expect(circuit.job).toEqual({
      fitted: true,
      connected: true,
      verified: false,
      calibrated: false,
      logging: true,
    });
    expect(circuit.powerPointIds).toEqual([site.point('clamp-node', 'power-2')]);
  });
  it('refuses what cannot hang there, and a way number that is taken', async () => {
    const board = (await all()).find((n) => n.kind === 'board');
    expect(await node({ parentId: site.circuit })).toMatchObject({
      status: 422,
      body: { errors: [{ field: 'parentId' }] },
    });
    expect(await node({ parentId: board?.id, way: '1' })).toMatchObject({
      status: 422,
      body: { errors: [{ field: 'way', message: expect.stringContaining('Hot-water cylinder') }] },
    });
    expect(await node({ kind: 'supply' })).toMatchObject({
      status: 422,
      body: { errors: [{ field: 'kind' }] },
    });
    expect(await node({ parentId: board?.id, ratedCurrent: -3 })).toMatchObject({
      status: 422,
      body: { errors: [{ field: 'ratedCurrent' }] },
    });
  });
  it('does not let a board go while something hangs on it', async () => {
    const board = (await all()).find((n) => n.kind === 'board');
    expect(await loka.raw(`/installation/${board?.id}`, 'DELETE')).toMatchObject({ status: 409 });
  });
});

describe('maps as files', () => {
  const shipped = async () =>
    (await loka.ask<RegisterMap[]>('/register-maps')).find((m) =>
      m.name.startsWith('Three-phase'),
    ) as RegisterMap;
  const importFile = (format: string, text: string, name = 'Brought in') =>
    loka.raw('/register-maps/import', 'POST', { format, name, text });

  it.each(['csv', 'json'])('go out as %s and come back the same', async (format) => {
    const map = await shipped();
    const { body, type, status } = await loka.raw(`/register-maps/${map.id}/export.${format}`);
    expect(status).toBe(200);
    expect(type).toContain(format);
    const text = typeof body === 'string' ? body : JSON.stringify(body);
    const made = (await importFile(format, text)).body as RegisterMap;
    expect(made.points).toEqual(map.points);
    await loka.ask(`/register-maps/${made.id}`, 'DELETE');
  });
  it('with wrong columns or values are refused with every line that is wrong, and nothing is taken', async () => {
    const before = (await loka.ask<RegisterMap[]>('/register-maps')).length;
    const text =
      'name,kind,address,type,quantity,unit\nA,holding,zero,float32,voltage,V\nB,holding,2,floating,voltage,V\n';
    expect(await importFile('csv', text)).toMatchObject({
      status: 422,
      body: { errors: [{ field: 'line 3', message: expect.stringContaining('floating') }] },
    });
    expect(await importFile('csv', text.replace('floating', 'float32'))).toMatchObject({
      status: 422,
      body: { errors: [{ field: 'line 2', message: expect.stringContaining('is not an address') }] },
    });
    expect(await importFile('csv', 'volts;amps\n1;2')).toMatchObject({ status: 422 });
    expect(await importFile('csv', '"never closed\n')).toMatchObject({ status: 422 });
    expect((await loka.ask<RegisterMap[]>('/register-maps')).length).toBe(before);
  });
  const HEADER = 'name,kind,address,type,quantity\n';
  it.each([
    ['40 000 columns', 'name,'.repeat(40_000), 422, /Line 1/],
    ['27 columns too many', 'name,'.repeat(55), 422, /56 columns; a register map has at most these 30/],
    [
      'a value too many',
      HEADER + Array.from({ length: 501 }, (_, i) => `V${i},holding,${2 * i},float32,other\n`).join(''),
      422,
      /at most 500 values/,
    ],
    ['a line without end', HEADER + 'x'.repeat(400_000), 422, /Line 2: A line has at most 10000/],
    ['as many lines as fit', HEADER + 'a,b\n'.repeat(120_000), 413, /too large/],
  ])('%s are refused at once', async (_what, text, status, words) => {
    const answer = await importFile('csv', text);
    expect([answer.status, (answer.body as { detail: string }).detail]).toEqual([
      status,
      expect.stringMatching(words),
    ]);
  });
  it('500 values are taken', async () => {
    const text =
      HEADER + Array.from({ length: 500 }, (_, i) => `V${i},holding,${2 * i},float32,other\n`).join('');
    const { status, body } = await importFile('csv', text);
    expect([status, (body as RegisterMap).points?.length]).toEqual([201, 500]);
    await loka.ask(`/register-maps/${(body as RegisterMap).id}`, 'DELETE');
  });
  it.each([
    ['no JSON', '{"format":'],
    ['null', 'null'],
    ['another file', '{"format":"something","version":1}'],
    [
      'a map with a member that nobody knows',
      '{"format":"loka-register-map","version":1,"name":"x","description":"","points":[{"danger":true}]}',
    ],
    ['a list', '[]'],
  ])('%s is refused in words', async (_what, text) => {
    const { status, body } = await importFile('json', text);
    expect(status).toBe(422);
    expect((body as { detail: string }).detail.length).toBeGreaterThan(10);
  });
});
