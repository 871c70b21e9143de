import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startLoka } from './loka.mjs';
import { needBuild, needPackages, needPrograms } from './machine.mjs';
import { startMariadb } from './mariadb.mjs';
import { stopAll, stopOnSignals } from './processes.mjs';
import { say } from './say.mjs';

/**
 * Does something with a sample site that is started for it, and leaves nothing of it behind.
 * @param options of {@link startLoka}
 */
export async function onSampleSite(options, work) {
  stopOnSignals();
  const folder = mkdtempSync(join(tmpdir(), 'loka-sample-'));
  try {
    await needPrograms('mariadbd', 'chromium-headless-shell');
    await needPackages();
    await needBuild();
    say('starting the sample site');
    const database = await startMariadb(folder, { fast: true });
    return await work(await startLoka(folder, 'sample', database, {}, options));
  } finally {
    await stopAll();
    rmSync(folder, { recursive: true, force: true });
  }
}
