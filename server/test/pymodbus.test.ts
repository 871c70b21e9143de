import type { TrialRead } from '@loka/contract/acquisition';
import type { Device } from '@loka/contract/devices';
import type { Link } from '@loka/contract/links';
import type { Point } from '@loka/contract/points';
import { QUALITY } from '@loka/core/series';
import { Loka, until } from './support/loka.js';
import { makeMap, makeSupply, nameSite, newest, register } from './support/point.js';
import { pymodbusOnSerialLine, pymodbusOverTcp } from './support/programs.js';

// The device is pymodbus, the requests are Loka's: two implementations of the protocol that share nothing.
let loka: Loka;
let mapId: number;
const programs: { stop(): Promise<void> }[] = [];

const TABLE = [
  register('voltage', 200, { type: 'float32', quantity: 'voltage', unit: 'V' }),
  register('frequency', 202, { type: 'float32', wordOrder: 'low-first', quantity: 'frequency', unit: 'Hz' }),
  register('signed', 210, { type: 'int16' }),
  register('split', 211, { type: 'int16', companion: { role: 'decimals', address: '212', digits: 2 } }),
  register('text', 220, { type: 'string', length: 4 }),
  register('large', 10, { kind: 'input', type: 'uint64' }),
  register('contact', 5, { kind: 'discrete', type: 'bool', quantity: 'contact-state' }),
  register('relay', 5, { kind: 'coil', type: 'bool', quantity: 'contact-state', access: 'read-write' }),
];

beforeAll(async () => {
  // Pseudo-terminals are no serial ports by default: the owner allows them here.
  loka = await Loka.start(undefined, { allowedSerial: ['/dev/pts/'] });
  await nameSite(loka);
  mapId = await makeMap(loka, 'Made up', { points: TABLE });
});
afterAll(async () => {
  await loka.stop();
  for (const program of programs) await program.stop();
});

async function connect(
  name: string,
  link: object,
  units: number[],
): Promise<{ linkId: number; ids: number[] }> {
  const { id: linkId } = await loka.ask<Link>('/links', 'POST', { name, timeoutMs: 1500, ...link });
  const ids: number[] = [];
  for (const unit of units)
    ids.push(
      (await loka.ask<Device>('/devices', 'POST', { linkId, mapId, name: `${name} ${unit}`, unit })).id,
    );
  return { linkId, ids };
}

/** Every value of the table as written down in the device's own file. */
async function readsRight(deviceId: number, unit: number): Promise<void> {
  const points = await loka.ask<Point[]>('/points');
  const value = (key: string) => newest(loka, points, deviceId, key);
  await until(`unit ${unit} answers`, () => value('relay')?.q === QUALITY.good && value('large')?.v != null);
  expect(value('voltage')?.v).toBeCloseTo(230.15, 4);
  expect(value('frequency')?.v).toBeCloseTo(49.98, 4);
  expect(value('signed')?.v).toBe(-432);
  expect(value('split')?.v).toBeCloseTo(231.47, 9);
  expect(value('text')).toMatchObject({ text: `UNIT ${unit}`, q: QUALITY.good });
  expect(value('large')?.v).toBe(9876543210);
  expect(value('contact')?.v).toBe(1);
}

it('Modbus TCP', async () => {
  const { port, program } = await pymodbusOverTcp('tcp');
  programs.push(program);
  const { linkId, ids } = await connect('tcp', { kind: 'modbus-tcp', host: '127.0.0.1', port }, [1]);
  await readsRight(ids[0]!, 1);
  const [trial] = await loka.ask<TrialRead[]>('/devices/trial-read', 'POST', {
    linkId,
    unit: 7,
    points: [TABLE[4]],
  });
  expect(trial).toMatchObject({ text: 'UNIT 7', message: null });
  const { faults } = (await loka.ask<Link[]>('/links')).find((l) => l.id === linkId)!.health;
  expect(faults).toEqual([]);
});

it('RTU over TCP: two units behind one address', async () => {
  const { port, program } = await pymodbusOverTcp('rtu-tcp');
  programs.push(program);
  const { ids } = await connect('gateway', { kind: 'modbus-rtu-tcp', host: '127.0.0.1', port }, [1, 7]);
  await readsRight(ids[0]!, 1);
  await readsRight(ids[1]!, 7);
});

it('RTU on a serial line: two units, parity even; a unit that is not there is said to be silent', async () => {
  const { path, programs: two } = await pymodbusOnSerialLine();
  programs.push(...two);
  const line = { kind: 'modbus-serial', path, baudRate: 19200, parity: 'even', stopBits: 1, timeoutMs: 400 };
  expect((await loka.raw('/links/test', 'POST', { name: 'x', ...line })).status).toBe(200);
  const { ids } = await connect('line', line, [1, 7, 9]);
  await readsRight(ids[0]!, 1);
  await readsRight(ids[1]!, 7);
  const silent = await until('a fault', async () => {
    const device = (await loka.ask<Device[]>('/devices')).find((d) => d.id === ids[2]);
    return device?.health.fault ? device.health : null;
  });
  expect(silent.fault).toMatch(/^Unit 9 gave no answer.*baud rate or parity/);
  expect(silent.faults[0]).toMatchObject({ kind: 'time-out' });
});

it('a value that is written is in the device', async () => {
  const points = await loka.ask<Point[]>('/points');
  const device = (await loka.ask<Device[]>('/devices')).find((d) => d.name === 'tcp 1')!;
  const nodeId = await makeSupply(loka);
  const relay = points.find((p) => p.deviceId === device.id && p.key === 'relay')!;
  const { id } = await loka.ask<{ id: number }>('/switches', 'POST', {
    name: 'Relay',
    nodeId,
    commandPointId: relay.id,
    statePointId: relay.id,
    timeoutMs: 3000,
  });
  await loka.ask(`/switches/${id}/operate`, 'POST', { closed: true });
  await until('the coil reads closed', () => newest(loka, points, device.id, 'relay')?.v === 1);
});

it('a serial port that the owner does not allow is refused, and one that is not there is explained', async () => {
  const forbidden = await loka.raw('/links/test', 'POST', {
    name: 'x',
    kind: 'modbus-serial',
    path: '/dev/null',
  });
  expect(forbidden).toMatchObject({
    status: 422,
    body: { detail: expect.stringContaining('not among the serial ports') },
  });
  const outside = await loka.raw('/links/test', 'POST', {
    name: 'x',
    kind: 'modbus-serial',
    path: '/dev/pts/../sda',
  });
  expect(outside.status).toBe(422);
  const missing = await loka.raw('/links/test', 'POST', {
    name: 'x',
    kind: 'modbus-serial',
    path: '/dev/pts/99999',
  });
  expect(missing).toMatchObject({
    status: 422,
    body: { detail: expect.stringContaining('cannot be opened') },
  });
});
