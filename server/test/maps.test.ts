import type { Device, DeviceSettings } from '@loka/contract/devices';
import type { Link } from '@loka/contract/links';
import type { Point } from '@loka/contract/points';
import type { MapImpact, MapVersion, RegisterMap } from '@loka/contract/registers';
import { LiveReadings } from '../src/live/liveReadings.js';
import { Loka, until } from './support/loka.js';
import { makeMap, message, nameSite, register } from './support/point.js';
import { TestBuilding } from './support/site.js';

let loka: Loka;
let building: TestBuilding;
let linkId: number;
let first: number;
let circuit: number;

beforeAll(async () => {
  [loka, building] = await Promise.all([Loka.start(), TestBuilding.start(['gateway'])]);
  await nameSite(loka);
  const node = (kind: string, parentId: number | null, name: string) =>
    loka.ask<{ id: number }>('/installation', 'POST', {
      kind,
      parentId,
      name,
      way: '',
      phases: 'L1',
      protectiveDevice: null,
      ratedCurrent: 16,
    });
  const supply = await node('supply', null, 'Supply');
  const board = await node('board', supply.id, 'Board');
  circuit = (await node('circuit', board.id, 'Display counter')).id;
  linkId = (
    await loka.ask<{ id: number }>('/links', 'POST', {
      name: 'Gateway',
      host: '127.0.0.1',
      port: building.ports.gateway,
    })
  ).id;
  const map = await mapNamed('Single-phase meter, integer map');
  first = (await loka.ask<Device>('/devices', 'POST', { linkId, mapId: map.id, name: 'Meter 1', unit: 1 }))
    .id;
  await loka.ask(`/devices/${first}/assignment`, 'PUT', { nodeId: circuit });
});
afterAll(async () => {
  await building.stop();
  await loka.stop();
});

const mapNamed = async (name: string) =>
  (await loka.ask<RegisterMap[]>('/register-maps')).find((m) => m.name === name) as RegisterMap;
const live = async (device: number, key: string) => {
  const point = (await loka.ask<Point[]>('/points')).find((p) => p.deviceId === device && p.key === key);
  return point && loka.app.get(LiveReadings).get(point.id);
};
const content = ({ name, description, points, messages }: RegisterMap) => ({
  name,
  description,
  points,
  messages,
});

describe('versions', () => {
  it('before a change is applied, it says what changes and which devices and circuits it touches', async () => {
    const map = await mapNamed('Single-phase meter, integer map');
    const points = map.points
      .filter((p) => p.key !== 'frequency')
      .map((p) => (p.key === 'voltage' ? { ...p, name: 'Line voltage' } : p))
      .map((p) => (p.key === 'peak-power' ? { ...p, quantity: 'energy-import', unit: 'Wh' } : p));
    const impact = await loka.ask<MapImpact>(`/register-maps/${map.id}/impact`, 'POST', {
      ...content(map),
      points,
    });
    expect(impact).toEqual({
      added: [],
      changed: ['Line voltage', 'Peak power'],
      removed: ['Frequency'],
      turned: ['Peak power'],
      dependents: [],
      devices: [{ id: first, name: 'Meter 1', circuits: ['Display counter'] }],
    });
  });
  it('each saving is a version, and an earlier one can be made the newest', async () => {
    const map = await mapNamed('Single-phase meter, integer map');
    const renamed = map.points.map((p) => (p.key === 'voltage' ? { ...p, name: 'Line voltage' } : p));
    await loka.ask(`/register-maps/${map.id}`, 'PUT', {
      ...content(map),
      points: renamed,
      version: map.version,
    });
    const versions = await loka.ask<MapVersion[]>(`/register-maps/${map.id}/versions`);
    expect(versions.map((v) => v.version)).toEqual([2, 1]);
    const restored = await loka.ask<RegisterMap>(`/register-maps/${map.id}/versions/1/restore`, 'POST');
    const now = await mapNamed('Single-phase meter, integer map');
    expect(restored).toEqual(now);
    expect(now.version).toBe(3);
    expect(now.points).toEqual(map.points);
  });
  it('who began with an older version does not overwrite what somebody else has saved', async () => {
    const map = await mapNamed('Single-phase meter, integer map');
    const late = await loka.raw(`/register-maps/${map.id}`, 'PUT', {
      ...content(map),
      version: map.version - 1,
    });
    expect(late).toMatchObject({
      status: 409,
      body: {
        detail: expect.stringContaining('Someone else has changed this map'),
        now: { version: map.version },
      },
    });
    expect((await loka.raw(`/register-maps/${map.id}/versions/99/restore`, 'POST')).status).toBe(404);
  });
});

describe('many like one', () => {
  it('three more at once, each with its unit id, and all of them answer', async () => {
    const members = [2, 3, 4].map((unit) => ({ name: `Meter ${unit}`, unit }));
    const { ids } = await loka.ask<{ ids: number[] }>('/devices/batch', 'POST', { likeId: first, members });
    for (const id of ids) await until('a voltage', async () => ((await live(id, 'voltage'))?.v ?? 0) > 200);
  });
  it('all of them or none: one that cannot be keeps the others out', async () => {
    const before = (await loka.ask<Device[]>('/devices')).length;
    const twice = [
      { name: 'A', unit: 9 },
      { name: 'B', unit: 9 },
    ];
    const taken = [
      { name: 'A', unit: 10 },
      { name: 'B', unit: 2 },
    ];
    for (const members of [twice, taken, [{ name: '', unit: 11 }], []])
      expect((await loka.raw('/devices/batch', 'POST', { likeId: first, members })).status).toBe(422);
    expect((await loka.ask<Device[]>('/devices')).length).toBe(before);
  });
  it('at addresses of their own: links are made that are set up like the first one’s, and they answer', async () => {
    const port = building.ports.gateway;
    const members = [
      { name: 'Elsewhere 1', unit: 1, address: { host: 'localhost', port } },
      { name: 'Elsewhere 2', unit: 2, address: { host: 'localhost', port } },
    ];
    const { ids, linkIds } = await loka.ask<{ ids: number[]; linkIds: number[] }>('/devices/batch', 'POST', {
      likeId: first,
      members,
    });
    expect(linkIds).toHaveLength(1);
    const links = await loka.ask<Link[]>('/links');
    const [made, like] = [linkIds[0], linkId].map((id) => links.find((l) => l.id === id) as Link);
    expect(made).toMatchObject({ host: 'localhost', port, kind: 'modbus-tcp', timeoutMs: like?.timeoutMs });
    for (const id of ids) await until('a voltage', async () => ((await live(id, 'voltage'))?.v ?? 0) > 200);
    // The same again is refused, and no link is left behind by what is refused.
    const free = { name: 'Free', unit: 1, address: { host: 'localhost', port: 9 } };
    expect(
      (await loka.raw('/devices/batch', 'POST', { likeId: first, members: [free, ...members] })).status,
    ).toBe(422);
    for (const address of [
      { host: 'a b', port: 1 },
      { host: 'localhost', port: 0 },
      { host: 'localhost' },
      'localhost',
    ])
      expect(
        (await loka.raw('/devices/batch', 'POST', { likeId: first, members: [{ ...free, address }] })).status,
      ).toBe(422);
    expect(await loka.ask<Link[]>('/links')).toHaveLength(links.length);
    expect(await loka.ask(`/links/${linkId}/another`, 'POST', { host: 'localhost', port })).toEqual({
      id: linkIds[0],
      made: false,
    });
    // Taken back: none of them is there, nothing is asked over the link that was made, and the one they are like goes on.
    const unknown = { ids: [...ids, 999_999], linkIds };
    expect((await loka.raw('/devices/batch/take-back', 'POST', unknown)).status).toBe(422);
    const present = async () => (await loka.ask<Device[]>('/devices')).map((d) => d.id);
    const enabled = async (id: number) =>
      (await loka.ask<Link[]>('/links')).find((l) => l.id === id)?.enabled;
    expect(await present()).toEqual(expect.arrayContaining(ids));
    await loka.ask('/devices/batch/take-back', 'POST', { ids: ids.slice(0, 1), linkIds });
    expect([await enabled(linkIds[0] as number), (await present()).includes(ids[0] as number)]).toEqual([
      true, // the second one is still on it
      false,
    ]);
    await loka.ask('/devices/batch/take-back', 'POST', { ids, linkIds });
    expect(await present()).not.toEqual(expect.arrayContaining([ids[1]]));
    expect([await enabled(linkIds[0] as number), await enabled(linkId)]).toEqual([false, true]);
  });
  it('twenty at once', async () => {
    const mapId = await makeMap(loka, 'Silent', { points: [register('a', 0)] });
    const like = await loka.ask<Device>('/devices', 'POST', { linkId, mapId, name: 'S', unit: 100 });
    const members = Array.from({ length: 20 }, (_, i) => ({ name: `S ${i}`, unit: 101 + i }));
    const { ids } = await loka.ask<{ ids: number[] }>('/devices/batch', 'POST', { likeId: like.id, members });
    expect(ids).toHaveLength(20);
    for (const id of [like.id, ...ids]) await loka.ask(`/devices/${id}`, 'DELETE');
  });
  it('settings are taken over by others: the map, and the conductors', async () => {
    const other = await makeMap(loka, 'Only voltage', {
      points: [
        register('voltage', 0, {
          kind: 'input',
          quantity: 'voltage',
          unit: 'V',
          scaling: { kind: 'factor', factor: 0.1, offset: 0 },
        }),
      ],
    });
    const devices = await loka.ask<Device[]>('/devices');
    const [a, b] = devices.filter((d) => ['Meter 2', 'Meter 3'].includes(d.name)) as [Device, Device];
    await loka.ask(`/devices/${a.id}`, 'PUT', { linkId, mapId: other, name: a.name, unit: a.unit });
    const voltage = (await loka.ask<Point[]>('/points')).find(
      (p) => p.deviceId === a.id && p.key === 'voltage',
    ) as Point;
    await loka.ask(`/points/${voltage.id}/assignment`, 'PUT', { nodeId: null, phase: 'L3' });
    const settings = async () => ({
      mapId: (await loka.ask<Device[]>('/devices')).find((d) => d.id === b.id)?.mapId,
      points: (await loka.ask<Point[]>('/points'))
        .filter((p) => p.deviceId === b.id)
        .map((p) => [p.key, p.nodeId, p.phase]),
    });
    const voltageOfB = (await loka.ask<Point[]>('/points')).find(
      (p) => p.deviceId === b.id && p.key === 'voltage',
    ) as Point;
    await loka.ask(`/points/${voltageOfB.id}/assignment`, 'PUT', { nodeId: circuit, phase: 'L1' });
    const had = await settings();
    const before = await loka.ask<DeviceSettings>(`/devices/${a.id}/copy-settings`, 'POST', {
      deviceIds: [b.id],
    });
    const own = (await loka.ask<Point[]>('/points')).filter((p) => p.deviceId === b.id);
    expect(own.map((p) => [p.key, p.phase])).toEqual([['voltage', 'L3']]);
    await until('it reads with it', async () => ((await live(b.id, 'voltage'))?.v ?? 0) > 200);
    const copied = await settings();
    expect(copied).not.toEqual(had);
    // Two devices of one unit cannot both have the same map; then neither is changed.
    const twins = await Promise.all(
      [1, 2].map(async (n) => {
        const mapId = await makeMap(loka, `Part ${n} of a unit`, { points: [register('a', n)] });
        return loka.ask<Device>('/devices', 'POST', { linkId, mapId, name: `Part ${n}`, unit: 60 });
      }),
    );
    const both = { deviceIds: twins.map((d) => d.id) };
    expect(await loka.raw(`/devices/${a.id}/copy-settings`, 'POST', both)).toMatchObject({
      status: 422,
      body: { errors: [{ message: expect.stringContaining('the same unit') }] },
    });
    const mapsOfTwins = (await loka.ask<Device[]>('/devices'))
      .filter((d) => d.unit === 60)
      .map((d) => d.mapId);
    expect(new Set(mapsOfTwins).size).toBe(2);
    for (const { id } of twins) await loka.ask(`/devices/${id}`, 'DELETE');
    // Undone: map, conductors and places are what they were. What cannot be given back changes nothing.
    for (const wrong of [
      { ...before, devices: [...before.devices, { id: 999_999, mapId: other }] },
      { ...before, devices: [{ id: b.id, mapId: 999_999 }] },
      { ...before, devices: [] },
      { ...before, points: before.points.map((p) => ({ ...p, nodeId: 999_999 })) },
    ])
      expect((await loka.raw('/devices/settings', 'PUT', wrong)).status).toBe(422);
    expect(await settings()).toEqual(copied);
    await loka.ask('/devices/settings', 'PUT', before);
    expect(await settings()).toEqual(had);
  });
});

describe('commands', () => {
  it('a value that is only written and always the same is sent, and does what it says', async () => {
    building.load('display-counter', 'on');
    const points = await loka.ask<Point[]>('/points');
    const clear = points.find((p) => p.deviceId === first && p.key === 'clear-peak') as Point;
    const peak = () => live(first, 'peak-power');
    const true_ = building.running.site.stations.gateway[0]!;
    // Its true peak, which it clears; a load that is off then keeps it low.
    building.load('display-counter', 'off');
    await until('off', () => (true_.values().power ?? 1) === 0);
    await loka.ask(`/points/${clear.id}/send`, 'POST');
    await until('cleared', () => true_.values()['peak-power'] === 0);
    await until('read', async () => (await peak())?.v === 0);
    building.load('display-counter', 'auto');
    const voltage = points.find((p) => p.deviceId === first && p.key === 'voltage') as Point;
    expect((await loka.raw(`/points/${voltage.id}/send`, 'POST')).status).toBe(422);
    const [audit] = await loka.sql.query("SELECT subject FROM audit WHERE subject LIKE '%/send'");
    expect(audit).toHaveLength(1);
  });
});

describe('what does not go together is refused', () => {
  it('registers and messages in one map, and a map on a link of the other kind', async () => {
    const both = await loka.raw('/register-maps', 'POST', {
      name: 'Both',
      description: '',
      points: [register('a', 0)],
      messages: [message('b')],
    });
    expect(both).toMatchObject({ status: 422, body: { detail: expect.stringContaining('not both') } });
    const messages = await makeMap(loka, 'Messages', { messages: [message('b')] });
    const wrong = await loka.raw('/devices', 'POST', { linkId, mapId: messages, name: 'X', unit: 50 });
    expect(wrong).toMatchObject({ status: 422, body: { errors: [{ field: 'mapId' }] } });
  });
  it('the kind of a link stays', async () => {
    const changed = await loka.raw(`/links/${linkId}`, 'PUT', {
      name: 'Gateway',
      kind: 'mqtt',
      host: '127.0.0.1',
      port: building.ports.gateway,
    });
    expect(changed).toMatchObject({ status: 422, body: { errors: [{ field: 'kind' }] } });
  });
  it('a map of messages goes out and in as JSON, exactly', async () => {
    const map = (await loka.ask<RegisterMap[]>('/register-maps')).find((m) =>
      m.name.startsWith('Plug meter'),
    ) as RegisterMap;
    const { body } = await loka.raw(`/register-maps/${map.id}/export.json`);
    const { id } = await loka.ask<{ id: number }>('/register-maps/import', 'POST', {
      format: 'json',
      name: '',
      text: JSON.stringify(body),
    });
    const again = (await loka.ask<RegisterMap[]>('/register-maps')).find((m) => m.id === id) as RegisterMap;
    expect([again.messages, again.availability, again.points]).toEqual([map.messages, map.availability, []]);
    expect((await loka.raw(`/register-maps/${map.id}/export.csv`)).status).toBe(422);
  });
});
