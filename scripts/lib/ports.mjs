import { createConnection, createServer } from 'node:net';

const canListen = (port) =>
  new Promise((resolve) => {
    const server = createServer();
    server.once('error', () => resolve(null));
    server.listen(port, '127.0.0.1', () => {
      const { port: got } = server.address();
      server.close(() => resolve(got));
    });
  });

/** Below the ports that the system gives to outgoing connections: those may be taken between a look and its use. */
const LOW = 20_000;
const HIGH = 32_000;
/** What this process has given out already, and somebody may be about to use. */
const given = new Set();

/** A port that is free on loopback: the first one from `from` on, or any where `from` is 0. */
export async function freePort(from = 0) {
  for (let tries = 0; tries < 200; tries++) {
    const port = from === 0 ? LOW + Math.floor(Math.random() * (HIGH - LOW)) : from + tries;
    if (from === 0 && given.has(port)) continue;
    const got = await canListen(port);
    if (got === null) continue;
    given.add(got);
    return got;
  }
  throw new Error(`no free port${from === 0 ? '' : ` from ${from} on`}`);
}

/** Several free ports at once, all different. */
export async function freePorts(count, from = 0) {
  const ports = [];
  while (ports.length < count) {
    const port = await freePort(from === 0 ? 0 : (ports.at(-1) ?? from - 1) + 1);
    if (!ports.includes(port)) ports.push(port);
  }
  return ports;
}

/** Whether something listens at a port on loopback. */
export const listens = (port) =>
  new Promise((resolve) => {
    const socket = createConnection({ host: '127.0.0.1', port });
    socket.on('connect', () => {
      socket.destroy();
      resolve(true);
    });
    socket.on('error', () => resolve(false));
  });
