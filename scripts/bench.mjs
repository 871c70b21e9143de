import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { needBuild, needPackages, needPrograms, ROOT } from './lib/machine.mjs';
import { startMariadb } from './lib/mariadb.mjs';
import { run, stopAll, stopOnSignals } from './lib/processes.mjs';
import { main, say } from './lib/say.mjs';

// npm run bench: samples a second through decode, correct and store, against bare inserts of the same rows.
await main(async () => {
  stopOnSignals();
  const folder = mkdtempSync(join(tmpdir(), 'loka-bench-'));
  try {
    await needPrograms('mariadbd');
    await needPackages();
    await needBuild();
    say('starting MariaDB (each commit waits for the disk, as in use)');
    const database = await startMariadb(folder);
    await run(process.execPath, ['--expose-gc', join(ROOT, 'server/dist/bench/store.js')], {
      what: 'bench',
      env: { ...database.env, LOKA_DATA: join(folder, 'data') },
    });
  } finally {
    await stopAll();
    rmSync(folder, { recursive: true, force: true });
  }
});
