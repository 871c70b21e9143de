import { jest } from '@jest/globals';
import type { Device } from '@loka/contract/devices';
import type { Link } from '@loka/contract/links';
import type { Point } from '@loka/contract/points';
import type { Switch, SwitchOperation } from '@loka/contract/control';
import { createServer, connect, type Server, type Socket } from 'node:net';
import { freePort } from '../../scripts/lib/ports.mjs';
import { AcquisitionService } from '../src/acquisition/acquisition.service.js';
import { DeviceBook, type KnownPoint } from '../src/book/deviceBook.js';
import { Loka, until } from './support/loka.js';
import { makeMap, makeSupply, message, nameSite, register } from './support/point.js';
import { Mosquitto, Program } from './support/programs.js';

/** A line to the broker that swallows what Loka sends, and can be cut. */
class Line {
  swallows = false;
  private readonly sockets = new Set<Socket>();
  private constructor(
    readonly port: number,
    private readonly server: Server,
  ) {}

  static async to(target: number): Promise<Line> {
    const port = (await freePort()) as number;
    const server = createServer();
    const line = new Line(port, server);
    server.on('connection', (near) => {
      const far = connect(target, '127.0.0.1');
      for (const socket of [near, far]) {
        line.sockets.add(socket);
        socket.on('error', () => undefined);
      }
      near.on('data', (bytes) => void (line.swallows || far.write(bytes)));
      far.on('data', (bytes) => near.write(bytes));
      near.on('close', () => far.destroy());
      far.on('close', () => near.destroy());
    });
    await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve));
    return line;
  }

  cut(): void {
    for (const socket of this.sockets) socket.destroy();
    this.sockets.clear();
  }

  stop(): void {
    this.cut();
    this.server.close();
  }
}

let loka: Loka;
let broker: Mosquitto;
let line: Line;
let commands: Program;
let switchId: number;
let linkId: number;

beforeAll(async () => {
  [loka, broker] = await Promise.all([Loka.start(), Mosquitto.start()]);
  line = await Line.to(broker.port);
  await nameSite(loka);
  const mapId = await makeMap(loka, 'Plug', {
    messages: [
      message('command', {
        topic: '{device}/wanted',
        pointer: '',
        quantity: 'contact-state',
        access: 'write',
        on: 'ON',
        off: 'OFF',
      }),
      message('contact', {
        topic: '{device}/relay',
        pointer: '',
        quantity: 'contact-state',
        on: 'ON',
        off: 'OFF',
      }),
    ],
  });
  ({ id: linkId } = await loka.ask<Link>('/links', 'POST', {
    name: 'Broker',
    kind: 'mqtt',
    host: '127.0.0.1',
    port: line.port,
    clientId: 'loka-failed',
    timeoutMs: 1000,
  }));
  const device = await loka.ask<Device>('/devices', 'POST', { linkId, mapId, name: 'Plug', topic: 'plug' });
  const points = (await loka.ask<Point[]>('/points')).filter((p) => p.deviceId === device.id);
  const point = (key: string) => points.find((p) => p.key === key)?.id;
  ({ id: switchId } = await loka.ask<{ id: number }>('/switches', 'POST', {
    name: 'Plug',
    nodeId: await makeSupply(loka),
    commandPointId: point('command'),
    statePointId: point('contact'),
    timeoutMs: 2000,
  }));
  // The device: hears its commands, as soon as one that it is sent arrives.
  commands = await Program.start(
    'mosquitto_sub',
    ['-p', String(broker.port), '-t', 'plug/wanted', '-q', '1'],
    async () => {
      await broker.publish('plug/wanted', 'HELLO');
      return true;
    },
  );
  await until('the device listens', async () => {
    await broker.publish('plug/wanted', 'HELLO');
    return commands.said.includes('HELLO');
  });
  await until('connected', async () => (await link()).health.state === 'answering');
}, 60_000);
afterAll(async () => {
  await loka.stop();
  await commands.stop();
  line.stop();
  await broker.stop();
});

const link = async () => (await loka.ask<Link[]>('/links')).find((l) => l.id === linkId) as Link;
const theSwitch = async () =>
  (await loka.ask<Switch[]>('/switches')).find((s) => s.id === switchId) as Switch;
const operate = (closed: boolean) =>
  loka.ask<SwitchOperation>(`/switches/${switchId}/operate`, 'POST', { closed });
/** Waits until the link has come back: a state that is said now arrives. */
const backAgain = async (state: 'ON' | 'OFF') =>
  until(
    'the link',
    async () => {
      await broker.publish('plug/relay', state);
      return (await theSwitch()).readBack === (state === 'ON');
    },
    20_000,
  );

it('that timed out on a line that swallows it is not sent when the line is back', async () => {
  line.swallows = true;
  const { outcome, message: why } = await operate(true);
  expect([outcome, why]).toEqual(['failed', expect.stringContaining('did not acknowledge within 1000 ms')]);
  line.swallows = false;
  line.cut();
  await until('the loss', async () => (await theSwitch()).readBack === null);
  await backAgain('OFF');
  // A command of now arrives, and nothing before it.
  await operate(false);
  await until('the next command', () => commands.said.includes('OFF'));
  expect(commands.said).not.toContain('ON');
}, 60_000);

it('that is given while the broker is away fails at once, and is not sent when it is back', async () => {
  await broker.halt();
  await until('the loss', async () => (await link()).health.state === 'failing');
  // Nobody waits for an acknowledgement that cannot come.
  expect(await operate(true)).toMatchObject({
    outcome: 'failed',
    message: expect.not.stringContaining('did not acknowledge'),
  });
  await broker.again();
  await commands.stop();
  commands = await Program.start(
    'mosquitto_sub',
    ['-p', String(broker.port), '-t', 'plug/wanted', '-q', '1'],
    async () => true,
  );
  await backAgain('OFF');
  await until('a command of now', async () => {
    await operate(false);
    return commands.said.includes('OFF');
  });
  expect(commands.said).not.toContain('ON');
}, 60_000);

it('after a connection the state is asked for again, also in a session that the broker has kept', async () => {
  await broker.publish('plug/relay', 'ON', '-r');
  await until('closed', async () => (await theSwitch()).readBack === true);
  line.cut();
  await until('not known', async () => (await theSwitch()).readBack === null);
  // Nothing is said again: the broker tells what was last said.
  await until('closed again', async () => (await theSwitch()).readBack === true, 20_000);
  await broker.publish('plug/relay', '', '-r');
}, 60_000);

describe('a Modbus link that is busy', () => {
  let swallowing: Server;
  const functions: number[] = [];
  let relay: Point;
  beforeAll(async () => {
    const port = (await freePort()) as number;
    // Takes requests and answers none: each keeps the link busy for its time-out.
    swallowing = createServer((socket) => {
      socket.on('error', () => undefined);
      socket.on('data', (bytes: Buffer) => functions.push(bytes[7] as number));
    });
    await new Promise<void>((resolve) => swallowing.listen(port, '127.0.0.1', resolve));
    const mapId = await makeMap(loka, 'Relay', {
      points: [
        register('relay', 0, {
          kind: 'coil',
          type: 'bool',
          quantity: 'contact-state',
          unit: '',
          access: 'write',
        }),
        ...[0, 500, 1000, 1500].map((address) => register(`at-${address}`, address)),
      ],
    });
    const { id } = await loka.ask<Link>('/links', 'POST', {
      name: 'Busy',
      host: '127.0.0.1',
      port,
      timeoutMs: 1000,
      retries: 0,
    });
    const device = await loka.ask<Device>('/devices', 'POST', { linkId: id, mapId, name: 'Relay', unit: 1 });
    relay = (await loka.ask<Point[]>('/points')).find(
      (p) => p.deviceId === device.id && p.key === 'relay',
    ) as Point;
    await until('a request', () => functions.length > 0);
  });
  afterAll(() => swallowing.close());

  it('sends a command in its time or not at all', async () => {
    const point = loka.app.get(DeviceBook).point(relay.id) as KnownPoint;
    const asked = functions.length;
    await until('the next request', () => functions.length > asked, 20_000);
    await expect(loka.app.get(AcquisitionService).write(point, 1, 100)).rejects.toThrow(/nothing was sent/);
    const later = functions.length;
    await until('further requests', () => functions.length > later, 20_000);
    expect(functions).not.toContain(5);
    // In its time it is sent, and fails for another reason.
    await expect(loka.app.get(AcquisitionService).write(point, 1, 5000)).rejects.toThrow(/no answer|closed/);
    expect(functions).toContain(5);
  }, 60_000);

  it('a link that cannot be started says why, and the others go on', async () => {
    const service = loka.app.get(AcquisitionService) as unknown as {
      runnerFor: (link: { name: string }) => unknown;
    };
    const real = service.runnerFor.bind(service);
    jest.spyOn(service, 'runnerFor').mockImplementation((...args) => {
      if (args[0].name === 'Broken') throw new Error('no such port');
      return real(...args);
    });
    const { id } = await loka.ask<Link>('/links', 'POST', { name: 'Broken', host: '127.0.0.1', port: 1 });
    await until('the reason', async () => {
      const health = (await loka.ask<Link[]>('/links')).find((l) => l.id === id)?.health;
      return health?.fault?.includes('no such port');
    });
    await until('the other one', async () => (await link()).health.state === 'answering');
    jest.restoreAllMocks();
  });
});
