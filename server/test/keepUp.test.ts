import { execFile, spawn } from 'node:child_process';
import { chmodSync, mkdirSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import mysql from 'mysql2/promise';
import { startMariadb, type RunningMariadb } from '../../scripts/lib/mariadb.mjs';
import { endLeftovers } from '../../scripts/lib/processes.mjs';
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
  const pid = () => Number(readFileSync(join(folder, 'mariadb', 'mariadb.pid'), 'utf8'));
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

it('what a killed start has left running is ended by the next one, and nothing else', async () => {
  const file = join(folder, 'started.json');
  const sleeper = () => spawn('sleep', ['600'], { stdio: 'ignore', detached: true });
  const bornAt = (pid: number) =>
    Number(/\) (?:\S+ ){19}(\d+)/.exec(readFileSync(`/proc/${pid}/stat`, 'utf8'))?.[1]);
  const [left, another] = [sleeper(), sleeper()];
  const isThere = (pid: number) => /\) [^Z]/.test(readFileSync(`/proc/${pid}/stat`, 'utf8'));
  const pids = [left.pid, another.pid] as [number, number];
  const ended = new Promise((resolve) => left.once('exit', resolve));
  writeFileSync(
    file,
    JSON.stringify([
      { pid: pids[0], what: 'the server', born: bornAt(pids[0]) },
      // The number is another process's by now.
      { pid: pids[1], what: 'MariaDB', born: bornAt(pids[1]) - 1 },
      { pid: 2 ** 22 + 1, what: 'nothing', born: 5 },
    ]),
  );
  await endLeftovers(file);
  await ended;
  expect(isThere(pids[1])).toBe(true);
  another.kill('SIGKILL');
  // Broken off while it was written, or not there at all.
  writeFileSync(file, '[{"pid":');
  await endLeftovers(file);
  await endLeftovers(join(folder, 'no such file'));
}, 30_000);

it('what was started ends with whoever started it, even when that is killed', async () => {
  const script = join(folder, 'starter.mjs');
  const log = join(folder, 'child.log');
  writeFileSync(
    script,
    `import { start } from ${JSON.stringify(new URL('../../scripts/lib/processes.mjs', import.meta.url).href)};
     const { child } = await start('sh', ['-c', 'echo ready; exec sleep 600'], { what: 'it', ready: /ready/, logFile: ${JSON.stringify(log)} });
     console.log('pid ' + child.pid);
     setInterval(() => undefined, 1000);`,
  );
  const starter = spawn(process.execPath, [script], { stdio: ['ignore', 'pipe', 'inherit'] });
  const pid = await new Promise<number>((resolve) => {
    starter.stdout.on('data', (chunk: Buffer) => {
      const said = /pid (\d+)/.exec(String(chunk));
      if (said) resolve(Number(said[1]));
    });
  });
  starter.kill('SIGKILL');
  await until('the child to end', async () => {
    try {
      // A dead one stays as a zombie where nobody asks for it.
      return /\) Z/.test(readFileSync(`/proc/${pid}/stat`, 'utf8'));
    } catch {
      return true;
    }
  });
}, 30_000);
