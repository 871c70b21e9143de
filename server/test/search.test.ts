import type { Device } from '@loka/contract/devices';
import type { Point } from '@loka/contract/points';
import type { RegisterMap } from '@loka/contract/registers';
import type { FoundDevice, Search } from '@loka/contract/search';
import { ServerTCP } from 'modbus-serial';
import { createServer, type Server } from 'node:net';
import { freePort } from '../../scripts/lib/ports.mjs';
import { Loka, until } from './support/loka.js';
import { nameSite, newest } from './support/point.js';
import { TestBuilding } from './support/site.js';

let loka: Loka;
let building: TestBuilding;

beforeAll(async () => {
  [loka, building] = await Promise.all([
    Loka.start(),
    TestBuilding.start(['main-meter', 'gateway', 'van-meter', 'mixer-meter', 'control']),
  ]);
  await nameSite(loka);
});
afterAll(async () => {
  await building.stop();
  await loka.stop();
});

const last = async () => (await loka.ask<{ search: Search | null }>('/searches/last')).search;
async function search(ports: number[], units = '1-5'): Promise<Search> {
  const { id } = await loka.ask<Search>('/searches', 'POST', {
    addresses: '127.0.0.1',
    ports: ports.join(','),
    units,
    timeoutMs: 400,
  });
  return until(
    'the end of the search',
    async () => {
      const state = await last();
      return state?.id === id && state.state !== 'running' ? state : null;
    },
    50_000,
  );
}
const mapId = async (name: string) =>
  (await loka.ask<RegisterMap[]>('/register-maps')).find((m) => m.name === name)?.id;

it('finds the units, and what they are: by what they say, by SunSpec, by a map that reads plausibly', async () => {
  const { 'main-meter': main, gateway, 'van-meter': van, 'mixer-meter': mixer, control } = building.ports;
  const result = await search([main, gateway, van, mixer, control, await freePort()]);
  expect(result).toMatchObject({ state: 'done', tried: 6, of: 6 });
  const found = (port: number) => result.found.filter((f) => f.port === port);
  expect(found(main).map((f) => [f.unit, f.identification, f.maps[0]?.id])).toEqual([
    [1, 'Brindlewick, Three-phase meter, 1.2', await mapId('Three-phase meter, float map')],
  ]);
  expect(found(gateway).map((f) => f.unit)).toEqual([1, 2, 3, 4]);
  expect(found(gateway).every((f) => f.maps[0]?.name === 'Single-phase meter, integer map')).toBe(true);
  expect(found(van)).toMatchObject([
    { unit: 1, identification: 'Brindlewick Charger meter BM-0203-77', sunspec: { model: 203 } },
  ]);
  expect(found(mixer)[0]?.maps[0]?.name).toBe('Motor meter, floats with the low word first');
  // What answers, but not in Modbus, is no device.
  expect(found(control)).toEqual([]);
});
it('a found one is added with one step, with its link; the second unit of a gateway uses the same link', async () => {
  const { gateway } = building.ports;
  const map = await mapId('Single-phase meter, integer map');
  const add = (unit: number) =>
    loka.ask<{ id: number }>('/searches/add', 'POST', {
      name: `Unit ${unit}`,
      host: '127.0.0.1',
      port: gateway,
      unit,
      mapId: map,
    });
  const [one, two] = [await add(1), await add(2)];
  const devices = await loka.ask<Device[]>('/devices');
  expect(devices.find((d) => d.id === one.id)?.linkId).toBe(devices.find((d) => d.id === two.id)?.linkId);
  const points = await loka.ask<Point[]>('/points');
  await until('a voltage', () => (newest(loka, points, two.id, 'voltage')?.v ?? 0) > 200);
  expect((await last())?.found.find((f) => f.port === gateway && f.unit === 2)?.deviceId).toBe(two.id);
});
it('a device that speaks SunSpec needs no map: its values are read with their scale factors', async () => {
  const { id } = await loka.ask<{ id: number }>('/searches/add', 'POST', {
    name: 'Charger',
    host: '127.0.0.1',
    port: building.ports['van-meter'],
    unit: 1,
  });
  const points = await loka.ask<Point[]>('/points');
  const value = (key: string) => newest(loka, points, id, key)?.v ?? NaN;
  const truth = () => building.running.site.building.flows.get('van-charger')!;
  await until('its voltage', () => Math.abs(value('voltage-l2') - truth().L2.volts) < 2);
  await until('its power', () => Math.abs(value('power-l1') - truth().L1.watts) <= 10);
  await until('its energy', () => value('energy-import') > 3_400_000);
  // A second one of the kind shares the map.
  const second = await loka.raw('/devices/sunspec', 'POST', {
    linkId: (await loka.ask<Device[]>('/devices')).find((d) => d.id === id)!.linkId,
    unit: 1,
    name: 'Again',
  });
  expect(second).toMatchObject({ status: 422, body: { errors: [{ field: 'unit' }] } });
});
it('what speaks no SunSpec is told so, and no link is left behind', async () => {
  const before = (await loka.ask<unknown[]>('/links')).length;
  expect(
    await loka.raw('/searches/add', 'POST', {
      name: 'By name',
      host: 'meter.local',
      port: 502,
      unit: 1,
      mapId: null,
    }),
  ).toMatchObject({ status: 422, body: { errors: [{ field: 'host' }] } });
  const none = await loka.raw('/searches/add', 'POST', {
    name: 'X',
    host: '127.0.0.1',
    port: building.ports['mixer-meter'],
    unit: 1,
  });
  expect(none).toMatchObject({
    status: 422,
    body: { detail: expect.stringContaining('does not speak SunSpec') },
  });
  expect((await loka.ask<unknown[]>('/links')).length).toBe(before);
});
it('only where the owner allows it, only ranges that are some, one search at a time', async () => {
  const ask = (more: object) =>
    loka.raw('/searches', 'POST', { addresses: '127.0.0.1', ports: '502', units: '1', ...more });
  expect(await ask({ addresses: '8.8.8.8' })).toMatchObject({
    status: 422,
    body: { errors: [{ field: 'addresses', message: expect.stringContaining('not in the networks') }] },
  });
  expect(await ask({ addresses: '127.0.0.1, 203.0.113.5' })).toMatchObject({ status: 422 });
  expect(await ask({ addresses: 'meter.local' })).toMatchObject({
    status: 422,
    body: { errors: [{ field: 'addresses' }] },
  });
  expect(await ask({ units: '0-400' })).toMatchObject({
    status: 422,
    body: { errors: [{ field: 'units' }] },
  });
  expect(await ask({ ports: '1-65535' })).toMatchObject({ status: 422 });
});
describe('a device that takes its time', () => {
  let silent: Server;
  let port: number;
  beforeAll(async () => {
    port = await freePort();
    silent = createServer((socket) => void socket.on('error', () => undefined));
    await new Promise<void>((resolve) => silent.listen(port, '127.0.0.1', () => resolve()));
  });
  afterAll(() => void silent.close());
  it('does not keep a search from being cancelled, and a second search waits for the first', async () => {
    const { id } = await loka.ask<Search>('/searches', 'POST', {
      addresses: '127.0.0.1',
      ports: String(port),
      units: '0-255',
      timeoutMs: 300,
    });
    expect(
      (await loka.raw('/searches', 'POST', { addresses: '127.0.0.1', ports: '502', units: '1' })).status,
    ).toBe(409);
    await loka.ask(`/searches/${id}/cancel`, 'POST');
    const state = await until('cancelled', async () =>
      (await last())?.state === 'cancelled' ? await last() : null,
    );
    expect(state?.found).toEqual([]);
  });
});

describe('a place that takes connections', () => {
  const ends: (() => void)[] = [];
  afterEach(() => ends.splice(0).forEach((end) => end()));
  /** A gateway with devices at some unit ids, whose first answers are 700 ms late; for other ids it says nothing. */
  async function gatewayOf(units: number[], late = 0): Promise<number> {
    const port = await freePort();
    let asked = 0;
    const server = createServer((socket) => {
      ends.push(() => void socket.destroy());
      socket.on('error', () => undefined);
      // Modbus TCP: transaction, protocol, length, unit, function; one register is answered, and that is 230.
      socket.on('data', (request) => {
        const [unit = 0, code = 0] = request.subarray(6, 8);
        if (!units.includes(unit)) return;
        const answer = Buffer.from([...request.subarray(0, 4), 0, 5, unit, code, 2, 0, 230]);
        setTimeout(() => void (socket.destroyed || socket.write(answer)), asked++ < late ? 700 : 0);
      });
    });
    ends.push(() => void server.close());
    await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', () => resolve()));
    return port;
  }
  it('is asked again with patience: units that were late at first are found all the same, in order', async () => {
    const port = await gatewayOf([1, 3], 3);
    const { found, mute } = await search([port], '1-3');
    expect(found.map((f) => [f.unit, f.anyUnit])).toEqual([
      [1, false],
      [3, false],
    ]);
    expect(mute).toEqual([]);
  });
  it('and where no unit answers is named: it is not the same as nothing', async () => {
    const port = await gatewayOf([]);
    const { found, mute } = await search([port, await freePort()], '1-2');
    expect(found).toEqual([]);
    expect(mute).toEqual([{ host: '127.0.0.1', port }]);
  });
});

describe('one place is asked what it is', () => {
  const ask = (body: object) => loka.ask<FoundDevice>('/searches/recognise', 'POST', body);
  it('at an address, or on a link that is in use', async () => {
    const { 'mixer-meter': port, gateway } = building.ports;
    const found = await ask({ host: '127.0.0.1', port, unit: 1 });
    expect(found.maps[0]?.name).toBe('Motor meter, floats with the low word first');
    const link = (await loka.ask<{ id: number; port: number }[]>('/links')).find((l) => l.port === gateway);
    expect((await ask({ linkId: link?.id, unit: 3 })).maps[0]?.name).toBe('Single-phase meter, integer map');
  });
  it('says that nobody answers, as a fault of the unit id or of the address', async () => {
    const { gateway } = building.ports;
    await expect(ask({ host: '127.0.0.1', port: gateway, unit: 77 })).rejects.toThrow(
      /422.*Unit 77 does not answer/,
    );
    await expect(ask({ host: '127.0.0.1', port: await freePort(), unit: 1 })).rejects.toThrow(/refuses port/);
    await expect(ask({ host: '8.8.8.8', port: 502, unit: 1 })).rejects.toThrow(/networks/);
    await expect(ask({ unit: 1 })).rejects.toThrow(/422|400/);
  });
});

it('a device that answers at every unit id is found as one', async () => {
  const port = await freePort();
  const server = new ServerTCP(
    {
      getHoldingRegister: (address: number) => Promise.resolve(address),
      getInputRegister: () => Promise.resolve(0),
    },
    { host: '127.0.0.1', port, unitID: 255 },
  );
  await new Promise<void>((resolve) => server.on('initialized', () => resolve()));
  const { found } = await search([port], '1-5');
  expect(found.map((f) => [f.unit, f.anyUnit])).toEqual([[1, true]]);
  await new Promise<void>((resolve) => server.close(() => resolve()));
});
