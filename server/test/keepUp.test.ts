import { execFile } from 'node:child_process';
import { chmodSync, mkdirSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import mysql from 'mysql2/promise';
import { startMariadb, type RunningMariadb } from '../../scripts/lib/mariadb.mjs';
import { LogFile } from '../../scripts/lib/logFile.mjs';
import { until } from './support/loka.js';

/** Whether a server could take a port. */
const listenOn = (server: Server, port: number): Promise<boolean> =>
  new Promise((resolve) => {
    server.once('error', () => resolve(false));
    server.listen(port, '127.0.0.1', () => resolve(true));
  });

let folder: string;
beforeAll(() => (folder = mkdtempSync(join(tmpdir(), 'loka-keep-'))));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

it('a MariaDB that dies is started again on the same data, and not after it was stopped', async () => {
  const database: RunningMariadb = await startMariadb(folder, { fast: true, keepUp: true });
  const pid = () => Number(readFileSync(join(folder, 'mariadb.pid'), 'utf8'));
  const first = pid();
  const answers = async () => {
    try {
      const { port, password } = database;
      const connection = await mysql.createConnection({ host: '127.0.0.1', port, user: 'loka', password });
      await connection.end();
      return true;
    } catch {
      return false;
    }
  };
  expect(await answers()).toBe(true);
  process.kill(first, 'SIGKILL');
  await until('it is there again', async () => (await answers()) && pid() !== first, 30_000);
  // Its port is taken for a while: it is tried again by one, not by more and more.
  const second = pid();
  const squatter = createServer();
  process.kill(second, 'SIGKILL');
  await until('the port to be free', async () => listenOn(squatter, database.port));
  await new Promise((resolve) => setTimeout(resolve, 4000));
  await new Promise((resolve) => squatter.close(resolve));
  await until('it is there once more', async () => (await answers()) && pid() !== second, 60_000);
  await new Promise((resolve) => setTimeout(resolve, 3000));
  const running = await promisify(execFile)('pgrep', ['-fc', `datadir=${join(folder, 'mariadb')}`]);
  expect(running.stdout.trim()).toBe('1');
  await database.stop();
  await new Promise((resolve) => setTimeout(resolve, 1500));
  expect(await answers()).toBe(false);
}, 150_000);

it('a log that cannot be written is none, and whoever is logged goes on', async () => {
  const closed = join(folder, 'is a file');
  writeFileSync(closed, '');
  const log = new LogFile(join(closed, 'server.log'));
  for (let i = 0; i < 5; i++) {
    log.write(Buffer.from('said\n'));
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
  log.end();
});

it('a log begins anew when it is large, and the one before stays beside it', async () => {
  const path = join(folder, 'logs', 'server.log');
  mkdirSync(join(folder, 'logs'));
  chmodSync(join(folder, 'logs'), 0o700);
  const log = new LogFile(path);
  const chunk = Buffer.alloc(1024 ** 2, 'x');
  for (let i = 0; i < 13; i++) log.write(chunk);
  log.end();
  expect(statSync(path).size).toBe(2 * 1024 ** 2);
  expect(statSync(`${path}.1`).size).toBe(11 * 1024 ** 2);
  expect(statSync(path).mode & 0o777).toBe(0o600);
});
