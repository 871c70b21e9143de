import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { needBuild, needPackages, needPrograms, SERVER_FLAGS } from './lib/machine.mjs';
import { startLoka } from './lib/loka.mjs';
import { findProgram, ROOT } from './lib/places.mjs';
import { startMariadb } from './lib/mariadb.mjs';
import { run, stopAll, stopOnSignals } from './lib/processes.mjs';
import { main, say } from './lib/say.mjs';

// npm run bench: samples a second through decode, correct and store, against bare inserts of the same rows; registers a
// second over a link, against a bare loop; what a thousand points at one second cost;
// messages a second from a broker; energy and charts out of a year of rollups; what diagnosing made-up wiring comes to, and what is found of made-up loads; and
// through a real browser how soon a change is seen and what two hundred ways cost. `npm run bench -- store` runs one,
// and `-- week` the one that takes an hour.
const BENCHES = ['store', 'poll', 'messages', 'energy', 'inputs', 'diagnosis', 'profile', 'browser'];
/** Takes an hour, and is run when it is asked for by name: a wall that stands for a week. */
const IN_BROWSER = ['browser', 'week'];

await main(async () => {
  stopOnSignals();
  const folder = mkdtempSync(join(tmpdir(), 'loka-bench-'));
  try {
    await needPrograms('mariadbd', 'mosquitto', 'mosquitto_sub');
    await needPackages();
    await needBuild();
    say('starting MariaDB (each commit waits for the disk, as in use)');
    const wanted = process.argv.length > 2 ? process.argv.slice(2) : BENCHES;
    const database = await startMariadb(folder, {
      databases: [...BENCHES, 'week'].map((what) => `loka_${what}`),
    });
    for (const what of wanted) {
      if (IN_BROWSER.includes(what)) {
        await inBrowser(folder, database, what);
        continue;
      }
      const env = { ...database.env, LOKA_DB_NAME: `loka_${what}`, LOKA_DATA: join(folder, 'data') };
      await run(process.execPath, ['--expose-gc', ...SERVER_FLAGS, join(ROOT, `bench/dist/${what}.js`)], {
        what,
        env,
      });
    }
  } finally {
    await stopAll();
    rmSync(folder, { recursive: true, force: true });
  }
});

/** A whole Loka with nothing in it, and Debian's Chromium before it. */
async function inBrowser(folder, database, what) {
  await needPrograms('chromium-headless-shell');
  const { url } = await startLoka(folder, `empty-${what}`, database, { LOKA_DB_NAME: `loka_${what}` });
  await run(process.execPath, [join(ROOT, `bench/dist/${what}.js`)], {
    what,
    env: { LOKA_URL: url, LOKA_CHROMIUM: findProgram('chromium-headless-shell') },
  });
}
