import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { lifeOf, loadSampleSite, startBuilding, writeHistory } from './lib/building.mjs';
import { needBuild, needPackages, needPrograms, ROOT, SERVER_FLAGS, VAR } from './lib/machine.mjs';
import { startMariadb } from './lib/mariadb.mjs';
import { freePort } from './lib/ports.mjs';
import { start, stopAll, stopOnSignals } from './lib/processes.mjs';
import { main, say, Stop } from './lib/say.mjs';

// npm start            the sample site with its simulated building
// npm start -- --empty an empty site of its own beside it; the building runs, nothing is connected
const empty = process.argv.includes('--empty');
const folder = join(VAR, empty ? 'empty' : 'sample');

const runningFile = join(folder, 'running.json');

await main(async () => {
  stopOnSignals();
  try {
    mkdirSync(folder, { recursive: true });
    refuseSecond();
    await needPrograms('mariadbd');
    await needPackages();
    await needBuild();
    const firstTime = !empty && !existsSync(join(folder, 'loaded'));
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

/** Two of them on one data folder would wait for each other's database; the second says where the first one is. */
function refuseSecond() {
  if (!existsSync(runningFile)) return;
  const { pid, port } = JSON.parse(readFileSync(runningFile, 'utf8'));
  if (isAlive(pid))
    throw new Stop(`Loka runs already, at http://localhost:${port} (process ${pid}). Stop that one first.`);
}

function isAlive(pid) {
  try {
    process.kill(pid, 0);
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('start.mjs');
  } catch {
    return false; // no such process, or one that is not ours to ask
  }
}
