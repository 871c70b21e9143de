import type { DeviceSettingsRead, SettingWritten } from '@loka/contract/settings';
import type { Verification } from '@loka/contract/verify';
import { LiveReadings } from '../src/live/liveReadings.js';
import { Loka, until } from './support/loka.js';
import { makeSite, TestBuilding, type MadeSite } from './support/site.js';

// The oven's meter of the building, behind transformers of 60 : 5 A, with its settings in holding registers.
let building: TestBuilding;
let loka: Loka;
let site: MadeSite;
let device: number;

beforeAll(async () => {
  building = await TestBuilding.start(['oven-meter']);
  building.load('deck-oven', 'on');
  loka = await Loka.start();
  site = await makeSite(loka, building, ['oven-meter']);
  device = site.devices['oven-meter'] as number;
  await loka.ask(`/devices/${device}/assignment`, 'PUT', { nodeId: site.circuit });
}, 60_000);
afterAll(async () => {
  await loka.stop();
  await building.stop();
});

const id = (key: string) => site.point('oven-meter', key);
const settings = () => loka.ask<DeviceSettingsRead>(`/settings/${device}`);
const read = () => loka.ask<DeviceSettingsRead>(`/settings/${device}/read`, 'POST');
const one = async (key: string) => (await settings()).settings.find((s) => s.key === key);
const want = (key: string, value: number | null) =>
  loka.raw(`/settings/${device}/wanted`, 'PUT', { settings: [{ pointId: id(key), value }] });
const write = async (key: string, value: number, seen: number) =>
  (
    await loka.ask<SettingWritten[]>(`/settings/${device}/write`, 'POST', {
      settings: [{ pointId: id(key), value, seen }],
    })
  )[0] as SettingWritten;
/** What stands in the meter itself. */
const inMeter = (address: number) => building.running.site.stations['oven-meter'][0]?.register(address);
const atMeter = (address: number, value: number) =>
  building.running.site.stations['oven-meter'][0]?.writeRegister?.(address, value);
const check = async () =>
  (await loka.ask<Verification>(`/verifications/${site.circuit}`)).checks.find((c) => c.kind === 'settings');
const current = () => loka.app.get(LiveReadings).get(id('current-l1'));

it('are read when asked, are no readings, and stand beside what is wanted', async () => {
  await until(
    'the settings to be read by themselves',
    async () => (await one('gain-l3'))?.read === 1,
    20_000,
  );
  expect((await read()).settings.map((s) => [s.key, s.read])).toEqual([
    ['primary-current', 60],
    ['secondary-current', 5],
    ['wiring-mode', 0],
    ['gain-l1', 1],
    ['gain-l2', 1],
    ['gain-l3', 1],
  ]);
  expect(loka.app.get(LiveReadings).get(id('primary-current'))).toBeUndefined();
  expect((await want('primary-current', 60)).status).toBe(200);
  expect(await check()).toMatchObject({ verdict: 'pass', says: 'The device is set as wanted.' });
});

it('are written after what was seen, and read back', async () => {
  const before = building.amperes('deck-oven', 'L1');
  await until('the true current', () => Math.abs((current()?.v ?? 0) - before) < 0.5);
  expect(await write('primary-current', 120, 60)).toEqual({
    pointId: id('primary-current'),
    done: true,
    before: 60,
    after: 120,
    message: '',
  });
  expect(inMeter(1000)).toBe(120);
  // Twice the primary current: the meter shows twice what flows.
  await until(
    'twice the current',
    () => Math.abs((current()?.v ?? 0) - 2 * building.amperes('deck-oven', 'L1')) < 1,
  );
  const { settings: now, changes } = await settings();
  expect(now[0]).toMatchObject({ read: 120, before: 60, wanted: 60 });
  expect(changes[0]).toMatchObject({ pointId: id('primary-current'), before: 60, value: 120, after: 120 });
  expect((await check())?.says).toBe(
    '“Transformer, primary current” is 120 A in the device and wanted 60 A.',
  );
});

it('are not overwritten when they have changed since they were seen', async () => {
  atMeter(1000, 80);
  expect(await write('primary-current', 60, 120)).toMatchObject({ done: false, before: 80, after: 80 });
  expect(inMeter(1000)).toBe(80);
  expect(await write('primary-current', 60, 80)).toMatchObject({ done: true });
  expect(await check()).toMatchObject({ verdict: 'pass' });
});

it.each([
  ['primary-current', 0, '“Transformer, primary current” is above 0.'],
  ['primary-current', 70_000, '“Transformer, primary current” cannot be 70000: above 10000 A.'],
  ['primary-current', 60.4, '“Transformer, primary current” has no room for 60.4: it would be 60.'],
  ['wiring-mode', 7, '“Wiring mode” is one of three phases with neutral, L1 alone.'],
  ['gain-l1', 7, /no room for 7/],
])('%s cannot be %p', async (key, value, message) => {
  const before = inMeter(1000);
  for (const [path, method] of [
    ['write', 'POST'],
    ['wanted', 'PUT'],
  ] as const) {
    const setting = { pointId: id(key), value, ...(path === 'write' ? { seen: 60 } : {}) };
    const { status, body } = await loka.raw(`/settings/${device}/${path}`, method, { settings: [setting] });
    expect({ status, detail: (body as { detail: string }).detail }).toEqual({
      status: 422,
      detail: message instanceof RegExp ? expect.stringMatching(message) : message,
    });
  }
  expect(inMeter(1000)).toBe(before);
});

it('refuses what is no setting of this device', async () => {
  const { status } = await loka.raw(`/settings/${device}/write`, 'POST', {
    settings: [{ pointId: id('current-l1'), value: 1, seen: 1 }],
  });
  expect(status).toBe(404);
  expect((await loka.raw('/settings/9999')).status).toBe(404);
});

it('a device that does not answer says so, and nothing is taken for done', async () => {
  await building.fault('oven-meter', { kind: 'silent' });
  expect(await write('gain-l1', 1.02, 1)).toMatchObject({ done: false, before: null, after: null });
  const { settings: now } = await read();
  expect(now.every((s) => s.fault.includes('no answer'))).toBe(true);
  expect(now[0]?.read).toBe(60);
  await building.fault('oven-meter', { kind: 'none' });
  expect((await read()).settings.every((s) => s.fault === '')).toBe(true);
  expect(inMeter(1003)).toBe(10_000);
});

it('two people who write at once: one of them is told that it has changed', async () => {
  const [a, b] = await Promise.all([write('gain-l1', 1.02, 1), write('gain-l1', 1.04, 1)]);
  expect([a.done, b.done].filter(Boolean)).toHaveLength(1);
  const done = a.done ? 1.02 : 1.04;
  expect((await one('gain-l1'))?.read).toBeCloseTo(done, 9);
  await write('gain-l1', 1, done);
});

it('a wish that is taken back is no fault any more, and a reading keeps no wish from being noted', async () => {
  const fault = async () =>
    (await loka.ask<{ id: number; wiringFault: string | null }[]>('/installation')).find(
      (n) => n.id === site.circuit,
    )?.wiringFault;
  await Promise.all([want('gain-l3', 1.1), read(), want('gain-l2', 1), read()]);
  expect([
    (await one('gain-l3'))?.wanted,
    (await one('gain-l2'))?.wanted,
    (await one('gain-l3'))?.read,
  ]).toEqual([1.1, 1, 1]);
  await until('it to be raised', async () => (await fault())?.includes('wanted 1.1'), 60_000);
  for (const key of ['gain-l3', 'gain-l2', 'primary-current']) await want(key, null);
  await until('it to be gone', async () => (await fault()) === null, 60_000);
}, 150_000);

it('is not asked over a link that is switched off', async () => {
  const links = await loka.ask<{ id: number; name: string; version: number; enabled: boolean }[]>('/links');
  const { id: linkId, ...link } = links[0] as (typeof links)[number];
  const body = (enabled: boolean) => ({
    name: link.name,
    host: '127.0.0.1',
    port: building.ports['oven-meter'],
    timeoutMs: 1000,
    enabled,
  });
  await loka.ask(`/links/${linkId}?anyway=true`, 'PUT', body(false));
  expect((await read()).settings[0]?.fault).toContain('is switched off');
  expect(await write('gain-l1', 1.05, 1)).toMatchObject({ done: false, before: null });
  await loka.ask(`/links/${linkId}`, 'PUT', body(true));
  await until('it to be read again', async () => (await read()).settings[0]?.fault === '', 20_000);
  expect(inMeter(1003)).toBe(10_000);
});

it('finds a ratio that is set in the device and in Loka', async () => {
  const pointIds = ['current-l1', 'current-l2', 'current-l3'].map(id);
  const sensing = (ratio: number) =>
    loka.ask('/sensing', 'POST', {
      pointIds,
      validFrom: Date.now() - 1000,
      ratio,
      turns: 1,
      reversed: false,
      kind: 'current-transformer',
      ratedCurrent: 60,
    });
  // With the oven on it would read more than such a transducer can: that is refused where it is typed.
  building.load('deck-oven', 'on');
  await until('the oven to draw', () => (current()?.raw ?? 0) > 10);
  await expect(sensing(12)).rejects.toThrow(/ends at 72\.0 A/);
  building.load('deck-oven', 'off');
  await until('it to be off', () => (current()?.raw ?? 99) < 1);
  await sensing(12);
  expect(await check()).toMatchObject({
    verdict: 'fail',
    says: 'The transformer’s ratio is applied twice: it reads 12 times what flows.',
  });
  await until(
    'the Board to say so',
    async () =>
      (await loka.ask<{ id: number; wiringFault: string | null }[]>('/installation')).some(
        (n) => n.id === site.circuit && n.wiringFault?.includes('applied twice'),
      ),
    60_000,
  );
  await sensing(1);
  expect(await check()).toMatchObject({ verdict: 'pass' });
});

it('what the database kept waiting is not written later, when nobody reckons with it any more', async () => {
  const seen = (await read()).settings.find((s) => s.key === 'gain-l1')?.read as number;
  const before = inMeter(1003);
  expect(before).toBe(Math.round(seen * 10_000));
  const locker = await loka.sql.getConnection();
  await locker.query('LOCK TABLES device_settings WRITE');
  const setting = { pointId: id('gain-l1'), value: 1.07, seen };
  // Of two neither: what waited for the first is as late as the first.
  const second = { pointId: id('gain-l2'), value: 1.07, seen: 1 };
  const written = loka.raw(`/settings/${device}/write`, 'POST', { settings: [setting, second] });
  await new Promise((resolve) => setTimeout(resolve, 11_000));
  await locker.query('UNLOCK TABLES');
  locker.release();
  expect((await written).status).not.toBe(422);
  // What is asked for next waits for what is under way.
  await read();
  expect(inMeter(1003)).toBe(before);
  expect(inMeter(1004)).toBe(10_000);
}, 60_000);
