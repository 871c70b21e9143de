import { randomBytes } from 'node:crypto';
import {
  chmodSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { account, giveTo, passThrough } from './account.mjs';
import { findProgram } from './places.mjs';
import { freePort } from './ports.mjs';
import { run, start } from './processes.mjs';
import { say, Stop } from './say.mjs';

/** MariaDB runs as root only when it is told that this is meant. */
const user = (as) => (!as && process.getuid?.() === 0 ? ['--user=root'] : []);

/**
 * Starts a MariaDB of our own on loopback: its own data folder, a free port, a socket in a private folder, no
 * configuration file of the machine. A user "loka" that may use databases named loka… and nothing else.
 * @param folder holds the data and the password
 * @param options fast: do not wait for the disk at each commit; databases: those to have ready; keepUp: start it again
 *   when it ends by itself; connections: how many there may be at once
 * @returns how to reach it, and how to stop it
 */
export async function startMariadb(
  folder,
  { fast = false, databases = ['loka'], keepUp = false, connections = 60 } = {},
) {
  const as = account();
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  passThrough(as, folder);
  const data = join(folder, 'mariadb');
  const first = !existsSync(join(data, 'mysql'));
  // Its own: another MariaDB that starts clears what it finds of temporary tables in the common one.
  const temporary = join(folder, 'mariadb-tmp');
  mkdirSync(temporary, { recursive: true, mode: 0o700 });
  giveTo(as, temporary);
  if (first) {
    const installer = findProgram('mariadb-install-db');
    if (!installer)
      throw new Stop('mariadb-install-db is missing; install the Debian package mariadb-server-core.');
    rmSync(data, { recursive: true, force: true });
    mkdirSync(data, { mode: 0o700 });
    giveTo(as, data);
    await run(
      installer,
      [
        '--no-defaults',
        `--datadir=${data}`,
        `--tmpdir=${temporary}`,
        '--auth-root-authentication-method=normal',
        '--skip-test-db',
        ...user(as),
      ],
      { what: 'preparing the database folder', quiet: true, as },
    );
  }
  // It may have been root's before.
  giveTo(as, data);
  const password = passwordOf(folder);
  // A socket's path may be no longer than 107 bytes, which a project folder easily is.
  const sockets = mkdtempSync(join(tmpdir(), 'loka-db-'));
  const clear = () => rmSync(sockets, { recursive: true, force: true });
  process.once('exit', clear);
  forgetSocketsOfLast(folder, sockets);
  giveTo(as, sockets);
  const socket = join(sockets, 's');
  const port = await freePort();
  const init = join(folder, 'init.sql');
  writeFileSync(
    init,
    [
      `CREATE USER IF NOT EXISTS 'loka'@'127.0.0.1' IDENTIFIED BY '${password}';`,
      `ALTER USER 'loka'@'127.0.0.1' IDENTIFIED BY '${password}';`,
      "GRANT ALL PRIVILEGES ON `loka%`.* TO 'loka'@'127.0.0.1';",
      // Only this machine's files reach the database, and nobody logs in as its root over the network.
      "ALTER USER 'root'@'localhost' ACCOUNT LOCK;",
      ...databases.map((name) => `CREATE DATABASE IF NOT EXISTS ${name} CHARACTER SET utf8mb4;`),
      '',
    ].join('\n'),
    { mode: 0o600 },
  );
  giveTo(as, init);
  const args = [
    '--no-defaults',
    `--datadir=${data}`,
    `--tmpdir=${temporary}`,
    `--socket=${socket}`,
    `--port=${port}`,
    '--bind-address=127.0.0.1',
    `--pid-file=${join(data, 'mariadb.pid')}`,
    `--init-file=${init}`,
    '--skip-name-resolve',
    '--character-set-server=utf8mb4',
    '--innodb-buffer-pool-size=256M',
    '--innodb-log-file-size=128M',
    `--max-connections=${connections}`,
    '--local-infile=1',
    // Tests throw their data away: no need to wait for the disk at each commit.
    ...(fast ? ['--innodb-flush-log-at-trx-commit=0', '--sync-binlog=0'] : []),
    ...user(as),
  ];
  const launch = () =>
    start(findProgram('mariadbd'), args, {
      what: 'MariaDB',
      as,
      // Its files are its own: those of tables as well.
      env: { UMASK: '0600', UMASK_DIR: '0700' },
      ready: /ready for connections/,
      logFile: join(folder, 'mariadb.log'),
      onExit: (code) => {
        if (keepUp && up) void startAgain(code);
      },
    });
  let stopped = false;
  // While it is being started, whoever starts it tries again; only one that was up is started again for its end.
  let up = false;
  /** The data are whole after any end; the server goes on with what it has on disk until then. */
  const startAgain = async (code) => {
    up = false;
    say(`MariaDB ended by itself (exit ${code}); starting it again`);
    for (let pause = 1000; !stopped; pause = Math.min(30_000, 2 * pause)) {
      try {
        process_ = await launch();
        if (stopped) return await process_.stop();
        up = true;
        return say('MariaDB is there again');
      } catch (error) {
        say(`${error.message.split('\n')[0]}; trying again in ${pause / 1000} s`);
        await setTimeout(pause);
      }
    }
  };
  let process_ = await launch();
  up = true;
  return {
    port,
    password,
    env: {
      LOKA_DB_HOST: '127.0.0.1',
      LOKA_DB_PORT: String(port),
      LOKA_DB_USER: 'loka',
      LOKA_DB_PASSWORD: password,
      LOKA_DB_NAME: 'loka',
    },
    async stop() {
      stopped = true;
      await process_.stop();
      clear();
      process.off('exit', clear);
    },
    /** For tests of what happens while the database is away. */
    pause: () => process_.stop(),
    kill: () => process_.kill(),
    /** It takes connections and does not answer, until it is thawed. */
    freeze: () => {
      process_.child.kill('SIGSTOP');
      return halted(process_.child.pid);
    },
    thaw: () => process_.child.kill('SIGCONT'),
    resume: async () => {
      process_ = await launch();
    },
  };
}

/** A signal is sent at once, and followed by each thread when it has its turn; until then one of them may still answer. */
async function halted(pid) {
  const tasks = `/proc/${pid}/task`;
  const isHalted = (task) => {
    try {
      return /^State:\s+T/m.test(readFileSync(join(tasks, task, 'status'), 'utf8'));
    } catch (error) {
      // A thread that has just ended answers nobody.
      if (error.code === 'ENOENT' || error.code === 'ESRCH') return true;
      throw error;
    }
  };
  while (!readdirSync(tasks).every(isHalted)) await setTimeout(5);
}

/** A start that was killed could not clear up behind itself; the one after it does. */
function forgetSocketsOfLast(folder, sockets) {
  const note = join(folder, 'sockets');
  const last = existsSync(note) ? basename(readFileSync(note, 'utf8')) : '';
  if (/^loka-db-\w{6}$/.test(last)) rmSync(join(tmpdir(), last), { recursive: true, force: true });
  writeFileSync(note, sockets);
}

function passwordOf(folder) {
  const file = join(folder, 'db-password');
  if (!existsSync(file)) writeFileSync(file, randomBytes(18).toString('base64url'), { mode: 0o600 });
  chmodSync(file, 0o600);
  return readFileSync(file, 'utf8').trim();
}
