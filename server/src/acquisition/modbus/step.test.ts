import { spawn } from 'node:child_process';
import { EventEmitter, once } from 'node:events';
import { createServer, type Socket } from 'node:net';
import { OUT_OF_STEP, Step } from './step.js';

const UNIT = 7;
/** Of RTU, with one register; what the check sum is does not matter here. */
const FRAME = Buffer.from([UNIT, 3, 2, 0, 100, 0, 0]);
const TIMEOUT = 100;

const ending: (() => void)[] = [];
afterEach(() => ending.splice(0).forEach((end) => end()));

const lineOf = (line: EventEmitter) => {
  const port = { _client: line, _buffer: Buffer.alloc(0) };
  line.on('data', (bytes: Buffer) => (port._buffer = Buffer.concat([port._buffer, bytes])));
  return { port, client: { _port: port } as never };
};
const later = (line: EventEmitter, ms: number, bytes: Buffer) =>
  setTimeout(() => line.emit('data', bytes), ms);

/** A unit that has just left a question unanswered, and nothing has come of it while it was waited for. */
async function owing() {
  const line = new EventEmitter();
  const { client, port } = lineOf(line);
  const step = new Step({ kind: 'modbus-serial', timeoutMs: TIMEOUT });
  step.unanswered(client, UNIT);
  await step.ready(client);
  return { line, client, port, step };
}

it('an answer that another one follows is not believed, and neither is left on the line', async () => {
  const { line, client, port, step } = await owing();
  later(line, 350, FRAME);
  await expect(step.answered(client, UNIT)).rejects.toMatchObject({ code: OUT_OF_STEP });
  expect(port._buffer).toHaveLength(0);
  // It may owe still more.
  later(line, 350, FRAME);
  await expect(step.answered(client, UNIT)).rejects.toMatchObject({ code: OUT_OF_STEP });
});

it('an answer that silence follows is believed, and then the next one at once', async () => {
  const { line, client, step } = await owing();
  await step.answered(client, UNIT);
  let said = false;
  later(line, 20, FRAME);
  void step.answered(client, UNIT).then(() => (said = true));
  await Promise.resolve();
  await Promise.resolve();
  expect(said).toBe(true);
});

it('a byte of noise after each frame is no answer', async () => {
  const { line, client, step } = await owing();
  later(line, 2, Buffer.from([0]));
  await expect(step.answered(client, UNIT)).resolves.toBeUndefined();
});

it('noise before the late answer does not end the waiting for it', async () => {
  const line = new EventEmitter();
  const { client, port } = lineOf(line);
  const step = new Step({ kind: 'modbus-serial', timeoutMs: TIMEOUT });
  step.unanswered(client, UNIT);
  later(line, 20, Buffer.from([0xff]));
  later(line, 90, FRAME);
  await step.ready(client);
  expect(port._buffer).toHaveLength(0);
});

it('what has come while the process stood still is heard before the wait is over', async () => {
  const server = createServer();
  server.listen(0, '127.0.0.1');
  await once(server, 'listening');
  const { port: number } = server.address() as { port: number };
  // Another process, since this one stands still: it answers as soon as it is asked.
  const unit = spawn(process.execPath, [
    '-e',
    `const s = require('node:net').connect(${number}, '127.0.0.1');
     s.once('data', () => setTimeout(() => s.write(Buffer.from('${FRAME.toString('hex')}', 'hex')), 100));`,
  ]);
  const [socket] = (await once(server, 'connection')) as [Socket];
  ending.push(
    () => unit.kill(),
    () => socket.destroy(),
    () => server.close(),
  );
  const { client, port } = lineOf(socket);
  const step = new Step({ kind: 'modbus-serial', timeoutMs: 50 });
  socket.write('?');
  await new Promise((resolve) => setImmediate(resolve));
  step.unanswered(client, UNIT);
  Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 1000);
  await step.ready(client);
  const unheard = once(socket, 'data').then(() => 'came afterwards');
  expect(await Promise.race([unheard, step.answered(client, UNIT).then(() => 'in step')])).toBe('in step');
  expect(port._buffer).toHaveLength(0);
});
