import type { Point } from '@loka/contract/points';
import { isUsable } from '@loka/core/series';
import { constants, closeSync, openSync } from 'node:fs';
import { createServer, type Server } from 'node:net';
import { freePort } from '../../scripts/lib/ports.mjs';
import { Loka, until } from './support/loka.js';
import { makeMap, nameSite, register } from './support/point.js';
import { Program } from './support/programs.js';

// A meter on a serial line that sometimes takes half as long again as is waited for, or four times as long, or so long
// that other things are asked meanwhile. It does one thing after the other, as meters do. All its requests have the same
// length, and its answers do not say what they answer: each register holds its own address.
const TIMEOUT = 200;
const ADDRESSES = [100, 300, 500, 700];
/** In time-outs. */
const LATE = [1.5, 4.2, 5.3, 7.7, 12.1];

/** The check sum of Modbus RTU (Modbus over serial line, 6.2.2). */
function crc(bytes: Buffer): Buffer {
  let sum = 0xffff;
  for (const byte of bytes) {
    sum ^= byte;
    for (let i = 0; i < 8; i++) sum = sum & 1 ? (sum >> 1) ^ 0xa001 : sum >> 1;
  }
  return Buffer.from([sum & 0xff, sum >> 8]);
}

let loka: Loka;
let device: Server;
let cable: Program;
let held: number;
let asked = 0;
let late = 0;
let freeAt = 0;

beforeAll(async () => {
  const port = (await freePort()) as number;
  device = createServer((socket) => {
    let pending = Buffer.alloc(0);
    socket.on('error', () => undefined);
    socket.on('data', (bytes: Buffer) => {
      pending = Buffer.concat([pending, bytes]);
      for (; pending.length >= 8; pending = pending.subarray(8)) {
        const address = pending.readUInt16BE(2);
        const head = Buffer.from([pending[0] as number, 3, 2, address >> 8, address & 0xff]);
        const isLate = asked++ % 3 === 1;
        const by = isLate ? (LATE[late++ % LATE.length] as number) * TIMEOUT : 2;
        freeAt = Math.max(freeAt, performance.now()) + by;
        setTimeout(() => socket.write(Buffer.concat([head, crc(head)])), freeAt - performance.now());
      }
    });
  });
  await new Promise<void>((resolve) => device.listen(port, '127.0.0.1', resolve));
  cable = await Program.start(
    'socat',
    ['-d', '-d', 'pty,raw,echo=0', `TCP:127.0.0.1:${port}`],
    /starting data transfer loop/,
  );
  const path = /PTY is (\S+)/.exec(cable.said)?.[1] as string;
  held = openSync(path, constants.O_RDWR | constants.O_NOCTTY);
  loka = await Loka.start(undefined, { allowedSerial: ['/dev/pts/'] });
  await nameSite(loka);
  const mapId = await makeMap(loka, 'Meter', {
    points: ADDRESSES.map((a) => register(`at-${a}`, a, { type: 'uint16', intervalMs: 400 })),
  });
  const { id: linkId } = await loka.ask<{ id: number }>('/links', 'POST', {
    name: 'Line',
    kind: 'modbus-serial',
    path,
    baudRate: 19_200,
    parity: 'none',
    stopBits: 1,
    timeoutMs: TIMEOUT,
    retries: 1,
  });
  await loka.ask('/devices', 'POST', { linkId, mapId, name: 'Meter', unit: 1 });
}, 60_000);
afterAll(async () => {
  await loka.stop();
  closeSync(held);
  await cable.stop();
  device.close();
});

it('a late answer never becomes the value of another register', async () => {
  await until('a dozen late answers', () => late >= 12, 60_000);
  const points = await loka.ask<Point[]>('/points');
  await until('all of them read', async () => {
    const [rows] = await loka.sql.query('SELECT COUNT(DISTINCT pointId) AS n FROM samples WHERE q < 128');
    return (rows as { n: number }[])[0]?.n === ADDRESSES.length;
  });
  const [rows] = await loka.sql.query('SELECT pointId, v, q FROM samples');
  const good = (rows as { pointId: number; v: number; q: number }[]).filter((r) => isUsable(r.q));
  expect(good.length).toBeGreaterThan(10);
  const wrong = good.filter((r) => `at-${r.v}` !== points.find((p) => p.id === r.pointId)?.key);
  expect(wrong).toEqual([]);
}, 90_000);
