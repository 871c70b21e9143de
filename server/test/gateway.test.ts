import type { Device } from '@loka/contract/devices';
import type { Link } from '@loka/contract/links';
import type { Point } from '@loka/contract/points';
import { ServerTCP } from 'modbus-serial';
import { freePort } from '../../scripts/lib/ports.mjs';
import { LiveReadings } from '../src/live/liveReadings.js';
import { Loka, until } from './support/loka.js';
import { register } from './support/point.js';

/** From here on a unit refuses; from there on it says nothing at all. */
const REFUSED = 100;
const IGNORED = 200;
/** Registers that it does not have, amid others. */
const isHole = (address: number): boolean => address >= 50 && address < 55;

/** A gateway with several units behind one address; those in `silent` never answer, for those in `absent` it says so. */
class Gateway {
  readonly silent = new Set<number>();
  readonly absent = new Set<number>();
  readonly asked: number[] = [];
  private constructor(private readonly server: ServerTCP) {}

  static async start(port: number): Promise<Gateway> {
    const answer = (address: number, unit: number): Promise<number> => {
      gateway.asked.push(unit);
      if (gateway.absent.has(unit))
        return Promise.reject(Object.assign(new Error('no'), { modbusErrorCode: 11 }));
      if (gateway.silent.has(unit) || address >= IGNORED) return new Promise(() => undefined);
      if (address >= REFUSED || isHole(address))
        return Promise.reject(Object.assign(new Error('no'), { modbusErrorCode: 2 }));
      return Promise.resolve(unit * 1000 + address);
    };
    const server = new ServerTCP(
      { getInputRegister: answer, getHoldingRegister: answer },
      { host: '127.0.0.1', port, unitID: 255 },
    );
    const gateway = new Gateway(server);
    await new Promise<void>((resolve) => server.on('initialized', () => resolve()));
    return gateway;
  }

  stop(): Promise<void> {
    return new Promise((resolve) => this.server.close(() => resolve()));
  }
}

let loka: Loka;
let gateway: Gateway;
const points = new Map<number, number>();
const devices = new Map<number, number>();

const definition = register('a', 5, { intervalMs: 500 });

beforeAll(async () => {
  const port = await freePort();
  [loka, gateway] = await Promise.all([Loka.start(), Gateway.start(port)]);
  await loka.ask('/site', 'PUT', {
    name: 'Test',
    timeZone: 'UTC',
    nominalVoltage: 230,
    frequency: 50,
    conductorScheme: 'iec-60445',
  });
  const link = await loka.ask<{ id: number }>('/links', 'POST', {
    name: 'Gateway',
    host: '127.0.0.1',
    port,
    timeoutMs: 500,
    enabled: true,
  });
  const map = await loka.ask<{ id: number }>('/register-maps', 'POST', {
    name: 'Plain',
    description: '',
    points: [definition],
  });
  for (const unit of [1, 2, 7]) {
    const device = await loka.ask<Device>('/devices', 'POST', {
      linkId: link.id,
      mapId: map.id,
      name: `Unit ${unit}`,
      unit,
    });
    devices.set(unit, device.id);
    const [point] = (await loka.ask<{ id: number; deviceId: number }[]>('/points')).filter(
      (p) => p.deviceId === device.id,
    );
    points.set(unit, point?.id ?? 0);
  }
});
afterAll(async () => {
  await loka.stop();
  await gateway.stop();
});

const live = (unit: number) => loka.app.get(LiveReadings).get(points.get(unit) ?? 0);
const health = async (unit: number) =>
  (await loka.ask<Device[]>('/devices')).find((d) => d.id === devices.get(unit))?.health;

it('each unit behind one address gives its own readings', async () => {
  for (const unit of [1, 2, 7])
    expect((await until(`unit ${unit}`, () => live(unit)?.q === 0 && live(unit)))?.v).toBe(unit * 1000 + 5);
});

it('one silent unit does not starve the others, is asked ever less often, and comes back by itself', async () => {
  gateway.silent.add(7);
  await until('unit 7 to be bad', () => live(7)?.q === 0x81);
  expect((await health(7))?.fault).toContain('Unit 7 gave no answer');
  const seen: number[] = [];
  const subscription = loka.app
    .get(LiveReadings)
    .stream.subscribe((batch) =>
      batch.forEach((r) => r.pointId === points.get(1) && r.q === 0 && seen.push(r.t)),
    );
  gateway.asked.length = 0;
  const began = Date.now();
  await until('eight seconds', () => Date.now() - began > 8000);
  subscription.unsubscribe();
  expect(seen.length).toBeGreaterThanOrEqual(10); // of 16, while unit 7 takes half a second each time it is asked
  expect(gateway.asked.filter((unit) => unit === 7).length).toBeLessThanOrEqual(4);
  expect((await health(1))?.state).toBe('answering');
  gateway.silent.delete(7);
  await until('unit 7 again', () => live(7)?.q === 0, 20_000);
  expect((await health(7))?.state).toBe('answering');
}, 60_000);

it('a unit of which the gateway says that it is not there is asked ever less often as well, and as a whole', async () => {
  gateway.absent.add(2);
  await until('unit 2 to be bad', () => live(2)?.q === 0x9b);
  expect(await health(2)).toMatchObject({ state: 'failing', fault: expect.stringContaining('exception 11') });
  gateway.asked.length = 0;
  const began = Date.now();
  await until('six seconds', () => Date.now() - began > 6000);
  expect(gateway.asked.filter((unit) => unit === 2).length).toBeLessThanOrEqual(4); // of 12
  expect(live(1)?.q).toBe(0);
  gateway.absent.delete(2);
  await until('unit 2 again', () => live(2)?.q === 0, 20_000);
  expect((await health(2))?.state).toBe('answering');
}, 60_000);

describe('a device that has not all that its map asks for', () => {
  /** A device of unit 3 with a value that is there and another one, in requests of their own. */
  const withOther = async (address: number) => {
    const { id: mapId } = await loka.ask<{ id: number }>('/register-maps', 'POST', {
      name: `With ${address}`,
      description: '',
      points: [definition, { ...definition, key: 'b', name: 'b', address: String(address) }],
    });
    const [link] = await loka.ask<Link[]>('/links');
    const { id } = await loka.ask<Device>('/devices', 'POST', {
      linkId: link?.id,
      mapId,
      name: `With ${address}`,
      unit: 3,
    });
    const own = (await loka.ask<Point[]>('/points')).filter((p) => p.deviceId === id);
    const live = (key: string) => loka.app.get(LiveReadings).get(own.find((p) => p.key === key)?.id ?? 0);
    const health = async () => (await loka.ask<Device[]>('/devices')).find((d) => d.id === id)?.health;
    return { id, live, health };
  };

  it('what it refuses is its fault alone: the device answers in part, steadily, and says which', async () => {
    const { id, live, health } = await withOther(REFUSED + 10);
    const first = await until('in part', async () => {
      const now = await health();
      return now?.state === 'partly' && live('a')?.q === 0 && now;
    });
    expect(first && first.fault).toMatch(/Unit 3 answered exception 2.*holding 110/);
    const readings = new Set<number>();
    await until('six more readings', async () => {
      readings.add(live('a')?.t ?? 0);
      expect(live('a')?.q).toBe(0);
      expect(live('b')?.v).toBeNull();
      const now = await health();
      expect(now).toMatchObject({ state: 'partly', since: first && first.since });
      return readings.size > 6;
    });
    await loka.ask(`/devices/${id}`, 'DELETE');
  });

  it('a range is read around the registers that it does not have', async () => {
    const [link] = await loka.ask<Link[]>('/links');
    const { snapshots, failures } = await loka.ask<{
      snapshots: { kind: string; start: number; reads: number[][] }[];
      failures: unknown[];
    }>('/devices/read-words', 'POST', { linkId: link?.id, unit: 1, address: 45, last: 70 });
    expect(failures).toEqual([]);
    expect(snapshots.map((s) => [s.kind, s.start, s.reads[0]?.length, s.reads[0]?.[0]])).toEqual([
      ['holding', 45, 5, 1045],
      ['holding', 55, 20, 1055],
      ['input', 45, 5, 1045],
      ['input', 55, 20, 1055],
    ]);
  });

  it('what it leaves without an answer does not cost its other values, once that is plain', async () => {
    const { id, live, health } = await withOther(IGNORED + 10);
    await until('the lone request is found out', async () => (await health())?.state === 'partly', 30_000);
    expect((await health())?.fault).toMatch(/no answer.*holding 210.*It answers others/);
    const seen = new Set<number>();
    await until('the value that is there goes on', () => {
      if (live('a')?.q === 0) seen.add(live('a')?.t ?? 0);
      return seen.size > 6;
    });
    expect(live('b')).toMatchObject({ v: null, q: 0x81 });
    await loka.ask(`/devices/${id}`, 'DELETE');
  }, 60_000);
});
