import type { Fitting } from '@loka/contract/fittings';
import type { Device } from '@loka/contract/devices';
import type { InstallationNode } from '@loka/contract/installation';
import type { Link } from '@loka/contract/links';
import type { Point } from '@loka/contract/points';
import type { DeviceSettingsRead, SettingWritten } from '@loka/contract/settings';
import mqtt, { type MqttClient } from 'mqtt';
import { Loka, until } from './support/loka.js';
import { makeMap, makeSupply, message, nameSite } from './support/point.js';
import { Mosquitto } from './support/programs.js';

// Settings of a device that reports by messages. The broker is Debian's mosquitto; the device is a client of its own, which
// tells what it is set to, retained, and takes what is sent in whole seconds.
const BASE = 'site/plug';
const SETTING = {
  topic: '{device}/settings',
  setTopic: '{device}/settings/wanted',
  access: 'setting',
} as const;
const MESSAGES = [
  message('power', { topic: '{device}/power', pointer: '', quantity: 'active-power', unit: 'W' }),
  message('interval', {
    ...SETTING,
    name: 'Report interval',
    quantity: 'duration',
    unit: 's',
    setting: 'report-interval',
    pointer: '/every',
    setPointer: '/every',
  }),
  message('turned', {
    ...SETTING,
    name: 'Direction',
    setting: 'reversed',
    pointer: '/turned',
    setPointer: '/turned',
    on: 'true',
    off: 'false',
  }),
  message('firmware', { topic: '{device}/info', access: 'setting', setting: 'other', pointer: '/build' }),
];
const told = { every: 2, turned: false };
/** What the device does with what is sent to it. */
let manner: 'good' | 'deaf' | 'asleep' = 'good';
const sent: string[] = [];

let loka: Loka;
let broker: Mosquitto;
let device: MqttClient;
let deviceId: number;
let points: Point[];

const tell = () => device.publishAsync(`${BASE}/settings`, JSON.stringify(told), { qos: 1, retain: true });
async function take(payload: string): Promise<void> {
  const { every, turned } = JSON.parse(payload) as Partial<typeof told>;
  if (every !== undefined) told.every = Math.round(every);
  if (turned !== undefined) told.turned = turned;
  await tell();
}

beforeAll(async () => {
  [loka, broker] = await Promise.all([Loka.start(), Mosquitto.start()]);
  device = await mqtt.connectAsync(`mqtt://127.0.0.1:${broker.port}`);
  device.on('message', (_topic, payload) => {
    sent.push(payload.toString());
    if (manner === 'good') void take(payload.toString());
  });
  await device.subscribeAsync(`${BASE}/settings/wanted`, { qos: 1 });
  await tell();
  await nameSite(loka);
  const supply = await makeSupply(loka);
  const availability = { topic: '{device}/online', online: 'yes', offline: 'no' };
  const mapId = await makeMap(loka, 'Plug', { messages: MESSAGES, availability });
  const link = { name: 'Broker', kind: 'mqtt', host: 'localhost', port: broker.port };
  const { id: linkId } = await loka.ask<Link>('/links', 'POST', link);
  const plug = { linkId, mapId, name: 'Plug', topic: BASE };
  ({ id: deviceId } = await loka.ask<Device>('/devices', 'POST', plug));
  points = await loka.ask<Point[]>('/points');
  await loka.ask(`/devices/${deviceId}/assignment`, 'PUT', { nodeId: supply });
}, 60_000);
afterAll(async () => {
  await device.endAsync(true);
  await loka.stop();
  await broker.stop();
});
beforeEach(() => {
  manner = 'good';
  sent.length = 0;
});

const id = (key: string) => points.find((p) => p.key === key)?.id as number;
const settings = () => loka.ask<DeviceSettingsRead>(`/settings/${deviceId}`);
const read = () => loka.ask<DeviceSettingsRead>(`/settings/${deviceId}/read`, 'POST');
const one = async (key: string) => (await settings()).settings.find((s) => s.key === key);
const write = async (...list: [key: string, value: number, seen: number][]) =>
  loka.ask<SettingWritten[]>(`/settings/${deviceId}/write`, 'POST', {
    settings: list.map(([key, value, seen]) => ({ pointId: id(key), value, seen })),
  });

it('what the broker has kept is known, what was never told is said to be so, and none of it is a reading', async () => {
  await until('the settings to be told', async () => (await one('interval'))?.read === 2, 10_000);
  const { settings: now } = await read();
  expect(now.map((s) => [s.key, s.read, s.writable, s.told])).toEqual([
    ['interval', 2, true, true],
    ['turned', 0, true, true],
    ['firmware', null, false, true],
  ]);
  expect(now[2]?.fault).toBe(`The device has said nothing yet on “${BASE}/info”.`);
  await device.publishAsync(`${BASE}/info`, '{"build":41}');
  await until('the firmware', async () => (await one('firmware'))?.read === 41, 5000);
  const [rows] = await loka.sql.query('SELECT 1 FROM samples WHERE pointId = ?', [id('interval')]);
  expect(rows).toHaveLength(0);
});

it('are sent as JSON where the device looks for them, and count as done when it tells them back', async () => {
  const written = await write(['interval', 5, 2], ['turned', 1, 0]);
  expect(written).toEqual([
    { pointId: id('interval'), done: true, before: 2, after: 5, message: '' },
    { pointId: id('turned'), done: true, before: 0, after: 1, message: '' },
  ]);
  expect(sent).toEqual(['{"every":5}', '{"turned":true}']);
  const { changes } = await settings();
  expect(changes.map((c) => [c.before, c.value, c.after])).toEqual([
    [0, 1, 1],
    [2, 5, 5],
  ]);
  const [node] = (await loka.ask<InstallationNode[]>('/installation')).filter((n) => n.kind === 'supply');
  const fittings = await loka.ask<Fitting[]>(`/fittings?node=${node?.id}`);
  expect(fittings.map((f) => f.says)).toContain('Plug, Direction: 0 → 1');
});

it('a value that the device rounds is not done, and says what came of it', async () => {
  expect(await write(['interval', 7.4, 5])).toMatchObject([
    { done: false, before: 5, after: 7, message: '7.4 was written, and the device gives back 7.' },
  ]);
});

it('what somebody sets at the device is known at once, marked so, and not overwritten unseen', async () => {
  await take('{"every":30}');
  await until('the new interval', async () => (await one('interval'))?.read === 30, 5000);
  expect(await one('interval')).toMatchObject({ before: 7, fault: '' });
  expect((await settings()).changes[0]).not.toMatchObject({ value: 30 });
  expect(await write(['interval', 2, 7])).toMatchObject([{ done: false, before: 30, after: 30 }]);
  expect(sent).toEqual([]);
});

it('a device that says nothing back has not taken it, as far as anybody knows; what it takes later is no stranger’s', async () => {
  manner = 'asleep';
  const [result] = await write(['turned', 0, 1], ['interval', 3, 30]).then((all) => {
    expect(all[1]).toMatchObject({ done: false, message: 'Not tried: the device had stopped answering.' });
    return all;
  });
  expect(result).toMatchObject({ done: false, before: 1, after: null });
  expect(result?.message).toMatch(
    /^It was sent, and within 5 s the device said nothing on .* It may still take it\.$/,
  );
  expect(sent).toEqual(['{"turned":false}']);
  await take(sent[0] as string);
  await until('what it has taken', async () => (await one('turned'))?.read === 0, 5000);
  // It is put down right after it is known.
  await until('what is put down of it', async () => (await settings()).changes[0]?.after !== null, 5000);
  const { changes } = await settings();
  expect(changes[0]).toMatchObject({ pointId: id('turned'), value: 0, after: 0 });
  const { changedAt } = (await one('turned')) ?? {};
  expect(Math.abs((changes[0]?.at ?? 0) - (changedAt ?? 0))).toBeLessThan(10_000);
}, 30_000);

it('what is no setting is said to be so, and what was known before stays', async () => {
  await device.publishAsync(`${BASE}/settings`, '{"every":"often","turned":', { retain: true });
  await until('the fault', async () => (await one('interval'))?.fault !== '', 5000);
  expect(await one('interval')).toMatchObject({ read: 30 });
  expect(await write(['interval', 2, 30])).toMatchObject([{ done: false, before: null }]);
  expect(sent).toEqual([]);
  await tell();
  await until('sense again', async () => (await one('interval'))?.fault === '', 5000);
});

it('nothing is sent to a device that is offline, or over a broker that is away', async () => {
  await device.publishAsync(`${BASE}/online`, 'no', { retain: true });
  await until('that it is offline', async () => {
    await read();
    return (await one('interval'))?.fault === '“Plug” says that it is offline.';
  });
  expect(await write(['interval', 2, 30])).toMatchObject([
    { done: false, before: null, message: '“Plug” says that it is offline.' },
  ]);
  await device.publishAsync(`${BASE}/online`, 'yes', { retain: true });
  await until('that it is there again', async () => (await read()).settings[0]?.fault === '');
  await broker.halt();
  await until('that the broker is away', async () => (await read()).settings[0]?.fault !== '');
  expect(await write(['interval', 2, 30])).toMatchObject([{ done: false, before: null }]);
  expect(await one('interval')).toMatchObject({ read: 30 });
  await broker.again();
  await until('the device', () => device.connected, 20_000);
  // A broker that has lost what it kept is told again by the device.
  await tell();
  await until('that it is told again', async () => (await read()).settings[0]?.fault === '', 20_000);
  expect(sent).toEqual([]);
}, 60_000);

it.each([
  ['interval', -1, '“Report interval” is above 0.'],
  ['turned', 5, '“Direction” has no room for 5: it would be 1.'],
] as const)('%s cannot be %p', async (key, value, detail) => {
  const { status, body } = await loka.raw(`/settings/${deviceId}/write`, 'POST', {
    settings: [{ pointId: id(key), value, seen: 1 }],
  });
  expect({ status, detail: (body as { detail: string }).detail }).toEqual({ status: 422, detail });
});

it('two who write at once: one of them is told that it has changed', async () => {
  const both = await Promise.all([write(['interval', 11, 30]), write(['interval', 12, 30])]);
  expect(both.flat().filter((w) => w.done)).toHaveLength(1);
  expect(sent).toHaveLength(1);
  expect((await one('interval'))?.read).toBe(told.every);
});

it('after a restart it is as it was, and told anew', async () => {
  await loka.halt();
  told.every = 44;
  await tell();
  loka = await Loka.start(loka.config);
  await until('what changed meanwhile', async () => (await one('interval'))?.read === 44, 10_000);
  expect((await one('interval'))?.before).toBeGreaterThanOrEqual(11);
}, 60_000);
