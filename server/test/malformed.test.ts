import type { TrialRead } from '@loka/contract/acquisition';
import type { Device } from '@loka/contract/devices';
import type { Link } from '@loka/contract/links';
import type { Point } from '@loka/contract/points';
import { createServer, type Server, type Socket } from 'node:net';
import { freePort } from '../../scripts/lib/ports.mjs';
import { Loka, until } from './support/loka.js';
import { makeMap, nameSite, newest, register } from './support/point.js';

/** Numbers that look random and are the same every time (mulberry32). */
function seeded(seed: number): () => number {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/** A right answer to a read of registers: each register holds its own address. */
function rightAnswer(request: Buffer): Buffer {
  const [start, count] = [request.readUInt16BE(8), request.readUInt16BE(10)];
  const answer = Buffer.alloc(9 + 2 * count);
  request.copy(answer, 0, 0, 4);
  answer.writeUInt16BE(3 + 2 * count, 4);
  answer[6] = request[6] as number;
  answer[7] = request[7] as number;
  answer[8] = 2 * count;
  for (let i = 0; i < count; i++) answer.writeUInt16BE(start + i, 9 + 2 * i);
  return answer;
}

/** The ways in which an answer can be wrong (each gets a right answer and gives what is sent instead). */
const WRONGS: Record<string, (answer: Buffer, random: () => number) => Buffer | null> = {
  'half a message': (a) => a.subarray(0, Math.floor(a.length / 2)),
  'a wrong transaction id': (a) => (a.writeUInt16BE((a.readUInt16BE(0) + 7) & 0xffff, 0), a),
  'a wrong protocol id': (a) => (a.writeUInt16BE(1234, 2), a),
  'a length that is too long': (a) => (a.writeUInt16BE(a.readUInt16BE(4) + 40, 4), a),
  'a length that is too short': (a) => (a.writeUInt16BE(3, 4), a),
  'fewer registers than asked for': (a) => {
    a[8] = 0;
    a.writeUInt16BE(3, 4);
    return a.subarray(0, 9);
  },
  'a byte count that does not hold': (a) => ((a[8] = 250), a),
  'another function': (a) => ((a[7] = 17), a),
  'another unit': (a) => ((a[6] = 99), a),
  'an exception that nobody knows': (a) => {
    a[7] = (a[7] as number) | 0x80;
    a[8] = 200;
    a.writeUInt16BE(3, 4);
    return a.subarray(0, 9);
  },
  noise: (a, random) =>
    Buffer.from(Array.from({ length: 1 + Math.floor(random() * 300) }, () => Math.floor(random() * 256))),
  'nothing at all': () => null,
  'a closed connection': () => Buffer.alloc(0),
};

class Wrong {
  /** Which wrong answer is given; null for right ones, 'any' for one after the other at random. */
  mode: string | null = null;
  asked = 0;
  private readonly sockets = new Set<Socket>();
  private readonly random = seeded(20_261_125);
  private constructor(
    readonly port: number,
    private readonly server: Server,
  ) {}

  static async start(): Promise<Wrong> {
    const port = await freePort();
    const server = createServer((socket) => {
      wrong.sockets.add(socket);
      socket.on('error', () => undefined);
      socket.on('data', (request) => wrong.answer(socket, request as Buffer));
    });
    const wrong = new Wrong(port, server);
    await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', () => resolve()));
    return wrong;
  }

  private answer(socket: Socket, request: Buffer): void {
    this.asked++;
    if (request.length < 12) return;
    const right = rightAnswer(request);
    const names = Object.keys(WRONGS);
    const mode =
      this.mode === 'any' ? (names[Math.floor(this.random() * names.length)] as string) : this.mode;
    const sent = mode === null ? right : (WRONGS[mode] as (typeof WRONGS)[string])(right, this.random);
    if (sent === null) return;
    if (sent.length === 0) socket.destroy();
    else socket.write(sent);
  }

  async stop(): Promise<void> {
    const closed = new Promise<void>((resolve) => this.server.close(() => resolve()));
    for (const socket of this.sockets) socket.destroy();
    await closed;
  }
}

let loka: Loka;
let wrong: Wrong;
let good: Wrong;
let link: Link;
let deviceId: number;
let goodId: number;
let points: Point[];

beforeAll(async () => {
  [loka, wrong, good] = await Promise.all([Loka.start(), Wrong.start(), Wrong.start()]);
  await nameSite(loka);
  const mapId = await makeMap(loka, 'Addresses', { points: [register('a', 100), register('b', 103)] });
  const make = async (name: string, port: number, timeoutMs: number) => {
    const made = await loka.ask<Link>('/links', 'POST', {
      name,
      host: '127.0.0.1',
      port,
      timeoutMs,
      retries: 0,
    });
    return {
      made,
      id: (await loka.ask<Device>('/devices', 'POST', { linkId: made.id, mapId, name, unit: 1 })).id,
    };
  };
  const first = await make('wrong', wrong.port, 120);
  link = first.made;
  deviceId = first.id;
  goodId = (await make('good', good.port, 2000)).id;
  points = await loka.ask<Point[]>('/points');
  await until('right readings', () => value(deviceId, 'b') === 103 && value(goodId, 'b') === 103);
});
afterAll(async () => {
  await loka.stop();
  await wrong.stop();
  await good.stop();
});
const value = (device: number, key: string) => newest(loka, points, device, key)?.v;

const trial = async () =>
  (
    await loka.ask<TrialRead[]>('/devices/trial-read', 'POST', {
      linkId: link.id,
      unit: 1,
      points: [register('a', 100)],
    })
  )[0] as TrialRead;

// The library does not look at the protocol id; the value that comes with a wrong one is the right one anyway.
it.each(Object.keys(WRONGS).filter((mode) => mode !== 'a wrong protocol id'))(
  '%s is no value: it is said in words, and the next right answer is read right',
  async (mode) => {
    wrong.mode = mode;
    const { value: read, message } = await trial();
    expect(read).toBeNull();
    expect(message).toMatch(/\w+/);
    wrong.mode = null;
    await until('it goes on', async () => (await trial()).value === 100);
  },
);

it('two hundred wrong answers of all kinds: never a wrong value, all counted, the other link undisturbed', async () => {
  const id = points.find((p) => p.deviceId === deviceId && p.key === 'a')!.id;
  const begin = Date.now();
  wrong.mode = 'any';
  const before = wrong.asked;
  while (wrong.asked - before < 200) {
    const { value: read } = await trial();
    // A wrong unit or transaction is dropped; whatever is taken is right.
    if (read !== null) expect(read).toBe(100);
  }
  wrong.mode = null;
  await until('right again', () => value(deviceId, 'a') === 100 && value(deviceId, 'b') === 103, 30_000);
  const [rows] = await loka.sql.query(
    'SELECT DISTINCT v FROM samples WHERE pointId = ? AND v IS NOT NULL AND t > ?',
    [id, begin],
  );
  expect((rows as { v: number }[]).every((r) => r.v === 100)).toBe(true);
  const device = (await loka.ask<Device[]>('/devices')).find((d) => d.id === deviceId) as Device;
  expect(device.health.faults.reduce((sum, f) => sum + f.count, 0)).toBeGreaterThan(0);
  expect(device.health.faults.every((f) => f.last.length > 10)).toBe(true);
  const other = (await loka.ask<Device[]>('/devices')).find((d) => d.id === goodId) as Device;
  expect(other.health).toMatchObject({ state: 'answering', faults: [] });
}, 180_000);
