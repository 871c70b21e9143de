import type { NodeEnergy } from '@loka/contract/energy';
import type { InstallationNode } from '@loka/contract/installation';
import type { Point } from '@loka/contract/points';
import { IntervalBook } from '../src/series/intervalBook.js';
import { RollupWorker } from '../src/series/rollupWorker.js';
import { SampleStore } from '../src/series/sampleStore.js';
import { Loka } from './support/loka.js';
import { makeMap, nameSite, register } from './support/point.js';

// The tree, and the energy of its places, without any device that answers.
let loka: Loka;
beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
  await nameSite(loka);
});
afterAll(() => loka.stop());

const body = (kind: string, parentId: number | null, name: string, more: object = {}) => ({
  kind,
  parentId,
  name,
  way: '',
  phases: 'L1 L2 L3',
  protectiveDevice: null,
  ratedCurrent: null,
  ...more,
});
const make = async (...args: Parameters<typeof body>) =>
  (await loka.ask<{ id: number }>('/installation', 'POST', body(...args))).id;
/** A device on a link that is switched off. */
const silentDevice = async (name: string, port: number, points: ReturnType<typeof register>[]) => {
  const address = { host: '127.0.0.1', port, timeoutMs: 1000, enabled: false };
  const link = await loka.ask<{ id: number }>('/links', 'POST', { name: `${name}, off`, ...address });
  const mapId = await makeMap(loka, name, { points });
  return (await loka.ask<{ id: number }>('/devices', 'POST', { linkId: link.id, mapId, name, unit: 1 })).id;
};
const refusal = async (path: string, method: string, sent?: object) => {
  const { status, body: answer } = await loka.raw(path, method, sent);
  const { detail, errors } = answer as { detail: string; errors?: { field: string; message: string }[] };
  return { status, field: errors?.[0]?.field, message: errors?.[0]?.message ?? detail };
};

describe('the tree', () => {
  let supply: number;
  let board: number;
  let way: number;
  beforeAll(async () => {
    supply = await make('supply', null, 'Supply');
    board = await make('board', supply, 'Main board', { way: 'MB' });
    way = await make('circuit', board, 'Oven', { way: '1' });
  });

  it.each([
    ['a second supply', () => body('supply', null, 'Other'), 'kind', 'supply already'],
    ['a board in the air', () => body('board', null, 'Nowhere'), 'parentId', 'Choose what it hangs on'],
    [
      'a way without a board',
      () => body('circuit', supply, 'Loose'),
      'parentId',
      'A circuit cannot hang on a supply',
    ],
    [
      'the same way twice',
      () => body('circuit', board, 'Mixer', { way: '1' }),
      'way',
      'Way 1 is “Oven” already',
    ],
    [
      'the same mark twice',
      () => body('board', supply, 'Other', { way: 'MB' }),
      'way',
      'Mark MB is “Main board”',
    ],
  ] as const)('refuses %s', async (_what, sent, field, message) => {
    expect(await refusal('/installation', 'POST', sent())).toMatchObject({
      status: 422,
      field,
      message: expect.stringContaining(message),
    });
  });
  it('a place is renamed where it is, and does not move elsewhere', async () => {
    await loka.ask(
      `/installation/${way}`,
      'PUT',
      body('circuit', board, 'Deck oven', { way: '1', ratedCurrent: 32 }),
    );
    const [named] = (await loka.ask<InstallationNode[]>('/installation')).filter((n) => n.id === way);
    expect(named).toMatchObject({ name: 'Deck oven', ratedCurrent: 32, way: '1' });
    expect(await refusal(`/installation/${way}`, 'PUT', body('circuit', supply, 'Deck oven'))).toMatchObject({
      status: 422,
      field: 'parentId',
    });
  });
  it('what has something below it, or a place that is not there, is not taken off', async () => {
    expect(await refusal(`/installation/${board}`, 'DELETE')).toMatchObject({
      status: 409,
      message: expect.stringContaining('1 more hangs below “Main board”'),
    });
    expect((await refusal('/installation/4711', 'DELETE')).status).toBe(404);
    const spare = await make('circuit', board, 'Spare', { way: '9' });
    await loka.ask(`/installation/${spare}`, 'DELETE');
    expect((await loka.ask<InstallationNode[]>('/installation')).some((n) => n.id === spare)).toBe(false);
  });
  it('points are given their places together, or none of them is', async () => {
    const deviceId = await silentDevice('Two lines', 1503, [register('a', 0), register('b', 1)]);
    const way = await make('circuit', board, 'Way of two lines', { way: '6' });
    const own = async () => (await loka.ask<Point[]>('/points')).filter((p) => p.deviceId === deviceId);
    const [a, b] = (await own()).map((p) => p.id) as [number, number];
    const places = (...points: object[]) => loka.raw('/points/assignments', 'PUT', { points });
    expect(
      (await places({ id: a, nodeId: way, phase: 'L1' }, { id: b, nodeId: way, phase: 'L2' })).status,
    ).toBe(204);
    const both = [
      { nodeId: way, phase: 'L1' },
      { nodeId: way, phase: 'L2' },
    ];
    expect(await own()).toMatchObject(both);
    for (const wrong of [
      { id: 4711, nodeId: way },
      { id: b, nodeId: 4711 },
      { id: b, nodeId: way, phase: 'L4' },
    ])
      expect((await places({ id: a, nodeId: null, phase: null }, wrong)).status).toBe(422);
    expect((await places()).status).toBe(422);
    expect(await own()).toMatchObject(both);
  });
  it('knows which places may feed in by what is there', async () => {
    const deviceId = await silentDevice('Storage', 1502, [
      register('power', 0, { quantity: 'active-power', unit: 'W', phase: 'total' }),
      register('battery-power', 1, { quantity: 'active-power', unit: 'W', phase: 'DC' }),
      register('battery-current', 2, { quantity: 'current', unit: 'A', phase: 'DC' }),
      register('line-current', 3, { quantity: 'current', unit: 'A', phase: 'L1' }),
    ]);
    const store = await make('circuit', board, 'Way with a store', { way: '5' });
    await loka.ask(`/devices/${deviceId}/assignment`, 'PUT', { nodeId: store });
    const points = (await loka.ask<Point[]>('/points')).filter((p) => p.deviceId === deviceId);
    const id = (key: string) => points.find((p) => p.key === key)?.id;
    const nodes = await loka.ask<InstallationNode[]>('/installation');
    expect(nodes.find((n) => n.id === store)).toMatchObject({
      feedsIn: true,
      powerPointIds: [id('power')],
      currentPointIds: [id('line-current')],
    });
    expect(nodes.find((n) => n.id === way)?.feedsIn).toBe(false);
    // What is said of a place goes before what it looks like.
    await loka.ask(`/installation/${way}`, 'PUT', body('circuit', board, 'Oven', { way: '1', flow: 'both' }));
    await loka.ask(
      `/installation/${store}`,
      'PUT',
      body('circuit', board, 'Way with a store', { way: '5', flow: 'in' }),
    );
    const said = await loka.ask<InstallationNode[]>('/installation');
    expect([way, store].map((n) => said.find(({ id }) => id === n)?.feedsIn)).toEqual([true, false]);
    expect(
      await refusal(`/installation/${way}`, 'PUT', body('circuit', board, 'Oven', { flow: 'up' })),
    ).toMatchObject({
      status: 422,
      field: 'flow',
    });
  });
});

describe('energy of a place', () => {
  const HOUR = 3_600_000;
  const FROM = Date.parse('2026-03-02T00:00:00Z');
  let place: number;
  let ids: Record<string, number>;
  const store = async (point: number, readings: [minute: number, v: number | null][]) => {
    const samples = loka.app.get(SampleStore);
    samples.append(
      readings.map(([minute, v]) => ({
        pointId: point,
        t: FROM + minute * 60_000,
        v,
        q: v === null ? 0x81 : 0,
      })),
    );
    await samples.flush();
  };
  const energy = async (from = FROM, to = FROM + HOUR) =>
    (await loka.ask<NodeEnergy[]>(`/energy?from=${from}&to=${to}`)).find((e) => e.nodeId === place);

  beforeAll(async () => {
    const [board] = (await loka.ask<InstallationNode[]>('/installation')).filter((n) => n.kind === 'board');
    place = await make('circuit', board?.id ?? 0, 'Counted', { way: '7' });
    const [link] = await loka.ask<{ id: number }[]>('/links');
    const mapId = await makeMap(loka, 'Counter', {
      points: [
        register('power', 0, { quantity: 'active-power', unit: 'W' }),
        register('energy', 1, { quantity: 'energy-import', unit: 'Wh' }),
      ],
    });
    const { id } = await loka.ask<{ id: number }>('/devices', 'POST', {
      linkId: link?.id,
      mapId,
      name: 'C',
      unit: 2,
    });
    await loka.ask(`/devices/${id}/assignment`, 'PUT', { nodeId: place });
    const points = (await loka.ask<Point[]>('/points')).filter((p) => p.deviceId === id);
    ids = Object.fromEntries(points.map((p) => [p.key, p.id]));
    for (const point of points)
      await loka.sql.query('REPLACE INTO point_intervals VALUES (?, 0, 60000)', [point.id]);
    await loka.app.get(IntervalBook).reload();
  });

  it('is unknown before anything has been read', async () => {
    expect(await energy()).toEqual({
      nodeId: place,
      source: 'power',
      import: null,
      export: null,
      net: null,
      coverage: 0,
      estimated: 0,
      other: null,
      uncertainSince: null,
    });
  });
  it('comes of the power, over the time that is covered: 1200 W for 30 of 60 min are 600 Wh', async () => {
    const half = Array.from({ length: 30 }, (_, minute): [number, number] => [minute, 1200]);
    await store(ids.power!, [...half, [30, null]]);
    expect(await energy()).toMatchObject({
      source: 'power',
      import: 600,
      export: 0,
      net: 600,
      coverage: 0.5,
    });
  });
  it('comes of the counter where there is one, from the reading before the period on; a reset begins at 0', async () => {
    // 40 Wh a minute; at minute 21 it begins at 0 again: 20 · 40 before, 39 · 40 after.
    await store(
      ids.energy!,
      Array.from({ length: 71 }, (_, i): [number, number] => {
        const minute = i - 5;
        return [minute, minute <= 20 ? 1000 + 40 * minute : 40 * (minute - 21)];
      }),
    );
    const counted = await energy();
    expect(counted).toMatchObject({ source: 'counter', estimated: 0, coverage: 1, export: null });
    expect(counted?.import).toBeCloseTo(800 + 1560, 6);
    expect(counted?.net).toBeCloseTo(800 + 1560, 6);
    // What the power says of the same stands beside it.
    expect(counted?.other).toMatchObject({ source: 'power', net: 600, coverage: 0.5 });
    // Over the part before the reset only what was counted there.
    expect((await energy(FROM, FROM + 15 * 60_000))?.net).toBeCloseTo(600, 6);
  });
  it('is the same from the rollups as from the samples', async () => {
    const before = await energy();
    await loka.app.get(RollupWorker).work();
    expect(await energy()).toEqual(before);
  });
});
