import type { CommandDone } from '@loka/contract/commands';
import type { Device } from '@loka/contract/devices';
import type { Link } from '@loka/contract/links';
import type { Point } from '@loka/contract/points';
import type { ProblemDetails } from '@loka/contract/health';
import { createServer, type AddressInfo, type Server } from 'node:net';
import { Loka } from './support/loka.js';
import { makeMap, nameSite, register } from './support/point.js';

/**
 * A device on a socket of its own that takes writing by some functions only, as many do, and notes what came. Frames by
 * Modbus Messaging on TCP/IP V1.0b, functions by Modbus Application Protocol V1.1b3, section 6 (recalled).
 */
class Picky {
  readonly functions: number[] = [];
  private held = 0;
  private server!: Server;
  port = 0;

  constructor(private readonly takes: readonly number[]) {}

  async start(): Promise<void> {
    this.server = createServer((socket) => {
      let rest = Buffer.alloc(0);
      socket.on('error', () => undefined);
      socket.on('data', (data) => {
        rest = Buffer.concat([rest, data]);
        while (rest.length >= 6 && rest.length >= 6 + rest.readUInt16BE(4)) {
          const whole = 6 + rest.readUInt16BE(4);
          socket.write(this.answer(rest.subarray(0, whole)));
          rest = rest.subarray(whole);
        }
      });
    });
    await new Promise<void>((resolve) => this.server.listen(0, '127.0.0.1', resolve));
    this.port = (this.server.address() as AddressInfo).port;
  }

  stop(): Promise<void> {
    return new Promise((resolve) => {
      this.server.close(() => resolve());
    });
  }

  private answer(frame: Buffer): Buffer {
    const code = frame[7] as number;
    const body = this.bodyOf(code, frame);
    const head = Buffer.from(frame.subarray(0, 7));
    head.writeUInt16BE(1 + body.length, 4);
    return Buffer.concat([head, body]);
  }

  private bodyOf(code: number, frame: Buffer): Buffer {
    if (code === 3) return Buffer.from([3, 2, this.held >> 8, this.held & 0xff]);
    if (code === 1) return Buffer.from([1, 1, this.held & 1]);
    this.functions.push(code);
    if (!this.takes.includes(code)) return Buffer.from([code | 0x80, 1]);
    if (code === 5) this.held = frame.readUInt16BE(10) === 0xff00 ? 1 : 0;
    if (code === 6) this.held = frame.readUInt16BE(10);
    if (code === 15) this.held = frame[13] as number;
    if (code === 16) this.held = frame.readUInt16BE(13);
    return Buffer.from(frame.subarray(7, 12));
  }
}

let loka: Loka;
beforeAll(async () => {
  loka = await Loka.start();
  await nameSite(loka);
});
afterAll(() => loka.stop());

let count = 0;
async function connected(device: Picky, more: { kind: 'holding' | 'coil'; writeMultiple?: boolean }) {
  await device.start();
  const name = `Picky ${++count}`;
  const isCoil = more.kind === 'coil';
  const points = [
    register('level', 40, {
      ...more,
      access: isCoil ? 'write' : 'read-write',
      ...(isCoil
        ? { type: 'bool', quantity: 'contact-state', send: 1 }
        : { type: 'uint16', quantity: 'other' }),
    }),
  ];
  const mapId = await makeMap(loka, name, { points });
  const link = { name, kind: 'modbus-tcp', host: '127.0.0.1', port: device.port, timeoutMs: 1500 };
  const { id: linkId } = await loka.ask<Link>('/links', 'POST', link);
  const { id } = await loka.ask<Device>('/devices', 'POST', { linkId, mapId, name, unit: 1 });
  const point = (await loka.ask<Point[]>('/points')).find((p) => p.deviceId === id)!;
  return { id, point };
}
const send = (point: Point, value: number | null) => loka.raw(`/points/${point.id}/send`, 'POST', { value });

it('a register is written by function 6; by 16 where its map says so', async () => {
  for (const [takes, writeMultiple] of [
    [6, false],
    [16, true],
  ] as const) {
    const device = new Picky([takes]);
    const { id, point } = await connected(device, {
      kind: 'holding',
      ...(writeMultiple ? { writeMultiple } : {}),
    });
    expect(await loka.ask<CommandDone>(`/points/${point.id}/send`, 'POST', { value: 1234 })).toMatchObject({
      sent: 1234,
      back: 1234,
    });
    expect(device.functions).toEqual([takes]);
    await loka.ask(`/devices/${id}`, 'DELETE');
    await device.stop();
  }
});
it('a coil likewise, by 5 or 15', async () => {
  for (const [takes, writeMultiple] of [
    [5, false],
    [15, true],
  ] as const) {
    const device = new Picky([takes]);
    const { id, point } = await connected(device, {
      kind: 'coil',
      ...(writeMultiple ? { writeMultiple } : {}),
    });
    expect((await send(point, null)).status).toBe(200);
    expect(device.functions).toEqual([takes]);
    await loka.ask(`/devices/${id}`, 'DELETE');
    await device.stop();
  }
});
it('a device that refuses the usual way says where the other one is chosen', async () => {
  const device = new Picky([16]);
  const { id, point } = await connected(device, { kind: 'holding' });
  const { status, body } = await send(point, 7);
  expect(status).toBeGreaterThanOrEqual(400);
  expect((body as ProblemDetails).detail).toMatch(/illegal function: .*“Always write with function 15”/);
  expect(device.functions).toEqual([6]);
  await loka.ask(`/devices/${id}`, 'DELETE');
  await device.stop();
});
