import type { AlertRule } from '@loka/contract/alerts';
import type { Dependent } from '@loka/contract/dependents';
import type { Device, FormerDevice } from '@loka/contract/devices';
import type { Link, MadeLink } from '@loka/contract/links';
import type { FormerPoint, Point } from '@loka/contract/points';
import type { Series } from '@loka/contract/readings';
import type { RegisterMap } from '@loka/contract/registers';
import { Loka, until } from './support/loka.js';
import { makeMap, makeSupply, message, nameSite } from './support/point.js';

// What was read of a device, or of a value, that was removed: reachable from its place, and gone on with when somebody says so.
let loka: Loka;
let link: MadeLink;
let mapId: number;
let supply: number;
let device: number;
let power: Point;

beforeAll(async () => {
  loka = await Loka.start();
  await nameSite(loka);
  supply = await makeSupply(loka);
  link = await loka.ask<MadeLink>('/links', 'POST', { name: 'Door', kind: 'http-push' });
  mapId = await makeMap(loka, 'Logger', {
    messages: [
      message('power', { topic: '{device}:power', pointer: '', quantity: 'active-power', unit: 'W' }),
      message('volts', { topic: '{device}:volts', pointer: '', quantity: 'voltage', unit: 'V' }),
    ],
  });
  device = await makeDevice();
  await loka.ask(`/devices/${device}/assignment`, 'PUT', { nodeId: supply });
  power = await pointOf(device, 'power');
  await until('the door', async () => (await post(BEGUN, 0)).status === 200);
});
afterAll(() => loka.stop());

const makeDevice = async (more: object = {}): Promise<number> =>
  (
    await loka.ask<Device>('/devices', 'POST', {
      linkId: link.id,
      mapId,
      name: 'Oven meter',
      topic: 'oven',
      ...more,
    })
  ).id;
const pointOf = async (deviceId: number, key: string): Promise<Point> =>
  (await loka.ask<Point[]>('/points')).find((p) => p.deviceId === deviceId && p.key === key) as Point;
/** Whole seconds, as a pack says them. */
const BEGUN = Math.floor(Date.now() / 1000) - 600;
const post = (at: number, v: number, name = 'power') =>
  loka.raw(`/push/${link.id}`, 'POST', [{ n: `oven:${name}`, t: at, v }], {
    authorization: `Bearer ${link.token}`,
  });
const valuesOf = async (pointId: number): Promise<(number | null)[]> => {
  const [series] = await loka.ask<Series[]>(
    `/readings?points=${pointId}&from=${(BEGUN - 60) * 1000}&to=${Date.now() + 1000}&width=900`,
  );
  return series?.mean ?? [];
};
const exported = async (pointId: number): Promise<string[]> => {
  const { body } = await loka.raw(
    `/readings/export.csv?point=${pointId}&from=${(BEGUN - 60) * 1000}&to=${Date.now() + 1000}`,
  );
  return String(body).trim().split('\r\n').slice(1);
};
const formerHere = () => loka.ask<FormerPoint[]>(`/points/former?node=${supply}`);

it('a device that was removed: its readings are found at its place, shown and exported', async () => {
  for (const [i, v] of [100, 200, 300].entries())
    expect((await post(BEGUN + 60 * (i + 1), v)).status).toBe(200);
  expect(await formerHere()).toEqual([]);
  await loka.ask(`/devices/${device}`, 'DELETE');
  expect((await loka.ask<Point[]>('/points')).some((p) => p.id === power.id)).toBe(false);
  const former = await formerHere();
  expect(former.map((p) => [p.key, p.deviceName]).sort()).toEqual([
    ['power', 'Oven meter'],
    ['volts', 'Oven meter'],
  ]);
  expect(Math.abs((former[0]?.removedAt ?? 0) - Date.now())).toBeLessThan(10_000);
  expect(await valuesOf(power.id)).toEqual(expect.arrayContaining([100, 200, 300]));
  expect(await exported(power.id)).toHaveLength(4);
  // In another window it is changed: that one is told that it is gone, and does not bring it back.
  expect(
    (await loka.raw(`/devices/${device}`, 'PUT', { linkId: link.id, mapId, name: 'Other', topic: 'oven' }))
      .status,
  ).toBe(404);
  // Nothing more is taken in.
  await post(BEGUN + 300, 999);
  expect(await exported(power.id)).toHaveLength(4);
});
it('another device begins a history of its own, unless somebody says that it is the same unit', async () => {
  const offered = await loka.ask<FormerDevice[]>('/devices/former');
  expect(offered).toMatchObject([{ id: device, name: 'Oven meter', circuits: ['Supply'], mapId }]);
  const other = await makeDevice({ name: 'New meter' });
  expect((await pointOf(other, 'power')).id).not.toBe(power.id);
  // That one reads the topic now: two cannot.
  expect(
    await loka.raw('/devices', 'POST', {
      linkId: link.id,
      mapId,
      name: 'Again',
      topic: 'oven',
      goesOnFrom: device,
    }),
  ).toMatchObject({
    status: 422,
    body: { errors: [{ field: 'topic' }] },
  });
  // Nor is the first one put back beside it.
  expect((await loka.raw(`/devices/${device}/restore`, 'POST')).status).toBe(422);
  await loka.ask(`/devices/${other}`, 'DELETE');
  expect(await makeDevice({ name: 'Oven meter, back', goesOnFrom: device })).toBe(device);
  const again = await pointOf(device, 'power');
  expect(again).toMatchObject({ id: power.id, nodeId: supply, deviceName: 'Oven meter, back' });
  await until(
    'its door',
    async () => (await post(BEGUN + 420, 400)).body !== undefined && (await exported(power.id)).length === 5,
  );
  expect(await valuesOf(power.id)).toEqual(expect.arrayContaining([100, 200, 300, 400]));
  // The other one was never anywhere.
  expect(await formerHere()).toEqual([]);
  expect(
    await loka.raw('/devices', 'POST', {
      linkId: link.id,
      mapId,
      name: 'Twice',
      topic: 'x',
      goesOnFrom: device,
    }),
  ).toMatchObject({
    status: 422,
    body: { errors: [{ field: 'goesOnFrom' }] },
  });
});
it('a value that is taken out of its map is found as what it was, and comes back with its readings', async () => {
  await post(BEGUN + 430, 231, 'volts');
  const volts = await pointOf(device, 'volts');
  await until('stored', async () => (await exported(volts.id)).length === 1);
  const map = (await loka.ask<RegisterMap[]>('/register-maps')).find((m) => m.id === mapId) as RegisterMap;
  const content = (messages: RegisterMap['messages']) => ({
    name: map.name,
    description: '',
    points: [],
    messages,
  });
  await loka.ask(`/register-maps/${mapId}`, 'PUT', content(map.messages.filter((m) => m.key !== 'volts')));
  expect(await formerHere()).toMatchObject([
    { id: volts.id, definition: { quantity: 'voltage', name: volts.definition.name } },
  ]);
  expect(await exported(volts.id)).toEqual([expect.stringContaining('231')]);
  await loka.ask(`/register-maps/${mapId}`, 'PUT', content(map.messages));
  expect(await formerHere()).toEqual([]);
  expect((await pointOf(device, 'volts')).id).toBe(volts.id);
});
it('a link on which something rests asks before it is switched off; then each says so, and that is over when it is on', async () => {
  await loka.ask('/alert-rules', 'POST', {
    name: 'High',
    pointId: power.id,
    direction: 'above',
    limit: 5000,
    deadband: 0,
    onDelayMs: 0,
    offDelayMs: 0,
    enabled: true,
  });
  const links = await loka.ask<Link[]>('/links');
  const { health: _, hasPassword: __, id, version, ...values } = links[0] as Link;
  const refused = await loka.raw(`/links/${id}`, 'PUT', { ...values, enabled: false, version });
  expect(refused.status).toBe(409);
  expect((refused.body as { dependents: Dependent[] }).dependents).toMatchObject([
    { kind: 'alert', name: 'High' },
  ]);
  expect((await loka.ask<Link[]>('/links'))[0]).toMatchObject({ enabled: true, version });
  await loka.ask(`/links/${id}?anyway=true`, 'PUT', { ...values, enabled: false, version });
  const missing = async () => (await loka.ask<AlertRule[]>('/alert-rules'))[0]?.missing;
  expect(await missing()).toMatch(/its link “Door” is switched off/);
  await until('the alert', async () =>
    (await loka.ask<{ kind: string; condition: string }[]>('/alerts')).some(
      (a) => a.kind === 'missing' && a.condition.includes('switched off'),
    ),
  );
  await loka.ask(`/links/${id}`, 'PUT', { ...values, enabled: true });
  expect(await missing()).toBeNull();
});
