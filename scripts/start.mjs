import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { account, giveTo } from './lib/account.mjs';
import { lifeOf, loadSampleSite, startBuilding, writeHistory } from './lib/building.mjs';
import { needBuild, needPackages, needPrograms, SERVER_FLAGS } from './lib/machine.mjs';
import { ROOT, VAR } from './lib/places.mjs';
import { startMariadb } from './lib/mariadb.mjs';
import { freePort } from './lib/ports.mjs';
import { endLeftovers, listStarted, start, stopAll, stopOnSignals } from './lib/processes.mjs';
import { main, say, Stop } from './lib/say.mjs';

// npm start            the sample site with its simulated building
// npm start -- --empty an empty site of its own beside it; the building runs, nothing is connected
const empty = process.argv.includes('--empty');
const folder = join(VAR, empty ? 'empty' : 'sample');

const runningFile = join(folder, 'running.json');
const startedFile = join(folder, 'started.json');

await main(async () => {
  stopOnSignals();
  try {
    mkdirSync(folder, { recursive: true });
    refuseSecond();
    writeFileSync(runningFile, JSON.stringify({ pid: process.pid, port: null }));
    await endLeftovers(startedFile);
    listStarted(startedFile);
    await needPrograms('mariadbd');
    await needPackages();
    await needBuild();
    // From here on everything that is written holds data of the site, and is its owner's alone.
    process.umask(0o077);
    // What an earlier version has written is narrowed as well.
    spawnSync('chmod', ['-R', 'go-rwx', folder]);
    const firstTime = !empty && !existsSync(join(folder, 'loaded'));
    if (firstTime) forgetUnfinished();
    say(
      firstTime
        ? 'starting MariaDB and the simulated building, and making its 30 days of history'
        : 'starting MariaDB and the simulated building',
    );
    const life = await lifeOf(folder);
    const [database, building, history] = await Promise.all([
      startMariadb(folder, { keepUp: true }),
      startBuilding(folder, life),
      firstTime ? writeHistory(folder, life) : null,
    ]);
    mkdirSync(join(folder, 'data'), { recursive: true });
    giveTo(account(), join(folder, 'data'));
    const env = { ...database.env, LOKA_DATA: join(folder, 'data'), LOKA_WEB: join(ROOT, 'web/dist') };
    if (history) {
      say('loading the sample site');
      await loadSampleSite(folder, building, env, history);
      rmSync(history, { force: true });
      writeFileSync(join(folder, 'loaded'), new Date().toISOString());
    }
    const port = await freePort(Number(process.env.LOKA_PORT ?? 8420));
    say('starting the server');
    await start(process.execPath, [...SERVER_FLAGS, join(ROOT, 'server/dist/main.js')], {
      what: 'the server',
      as: account(),
      port,
      ready: /loka ready/,
      env: { ...env, LOKA_PORT: String(port) },
      logFile: join(folder, 'server.log'),
      onExit: (code) => {
        console.error(`\n✗ the server ended (exit ${code}); see ${join(folder, 'server.log')}`);
        void stopAll().then(() => process.exit(1));
      },
    });
    writeFileSync(runningFile, JSON.stringify({ pid: process.pid, port }));
    console.log(`\n  Loka is at  http://localhost:${port}\n`);
    if (empty)
      for (const [name, at] of Object.entries(building.ports))
        console.log(`  ${name.padEnd(12)} 127.0.0.1 port ${at}, unit 1`);
    console.log(`  The building’s control port: ${building.control}/state\n  Ctrl-C stops everything.\n`);
    await new Promise(() => setInterval(() => undefined, 1 << 30));
  } catch (error) {
    await stopAll();
    throw error;
  }
});

/** A start that was broken off while it loaded the sample site has left a part of it; the next one starts again. */
function forgetUnfinished() {
  const parts = ['mariadb', 'data', 'history.csv'].map((name) => join(folder, name)).filter(existsSync);
  if (parts.length === 0) return;
  say('an earlier start was broken off before the sample site was loaded; beginning anew');
  for (const part of parts) rmSync(part, { recursive: true, force: true });
}

/** Two of them on one data folder would wait for each other's database; the second says where the first one is. */
function refuseSecond() {
  if (!existsSync(runningFile)) return;
  const { pid, port } = JSON.parse(readFileSync(runningFile, 'utf8'));
  if (isAlive(pid))
    throw new Stop(
      `Loka ${port === null ? 'is being started already' : `runs already, at http://localhost:${port}`} (process ${pid}). Stop that one first.`,
    );
}

function isAlive(pid) {
  try {
    process.kill(pid, 0);
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('start.mjs');
  } catch {
    return false; // no such process, or one that is not ours to ask
  }
}
