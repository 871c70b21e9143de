import type { Device } from '@loka/contract/devices';
import { ServerTCP } from 'modbus-serial';
import { freePort } from '../../scripts/lib/ports.mjs';
import { LiveReadings } from '../src/live/liveReadings.js';
import { Loka, until } from './support/loka.js';

/** A gateway with several units behind one address; those in `silent` never answer. */
class Gateway {
  readonly silent = new Set<number>();
  readonly asked: number[] = [];
  private constructor(private readonly server: ServerTCP) {}

  static async start(port: number): Promise<Gateway> {
    const answer = (address: number, unit: number): Promise<number> => {
      gateway.asked.push(unit);
      return gateway.silent.has(unit) ? new Promise(() => undefined) : Promise.resolve(unit * 1000 + address);
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
  const definition = {
    key: 'a',
    name: 'a',
    kind: 'holding',
    address: '5',
    counting: 'from-0',
    type: 'uint16',
    wordOrder: 'high-first',
    byteOrder: 'high-first',
    scaling: { kind: 'factor', factor: 1, offset: 0 },
    unit: '',
    quantity: 'other',
    phase: null,
    access: 'read',
    intervalMs: 500,
  };
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
