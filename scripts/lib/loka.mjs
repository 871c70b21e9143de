import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { lifeOf, loadSampleSite, startBuilding, writeHistory } from './building.mjs';
import { account, giveTo, passThrough } from './account.mjs';
import { SERVER_FLAGS } from './machine.mjs';
import { ROOT } from './places.mjs';
import { freePort } from './ports.mjs';
import { start } from './processes.mjs';

/**
 * Starts a whole Loka with its building in a folder of its own.
 * @param withSample the sample site is loaded, with its history
 * @param zone by whose clock the building lives
 * @param days how old the building is, and the history of its site
 * @param shared a building that runs already, to be read by this one as well
 */
export async function startLoka(
  folder,
  name,
  database,
  env,
  { withSample = name === 'sample', shared = null, zone = undefined, days = undefined } = {},
) {
  const own = join(folder, name);
  mkdirSync(join(own, 'data'), { recursive: true });
  passThrough(account(), own);
  giveTo(account(), join(own, 'data'));
  const life = shared ? null : await lifeOf(own, 0, { zone, days });
  const building = shared ?? (await startBuilding(own, life));
  const all = { ...database.env, ...env, LOKA_DATA: join(own, 'data'), LOKA_WEB: join(ROOT, 'web/dist') };
  if (withSample) await loadSampleSite(own, building, all, await writeHistory(own, life));
  const port = await freePort();
  await start(process.execPath, [...SERVER_FLAGS, join(ROOT, 'server/dist/main.js')], {
    what: 'the server',
    as: account(),
    ready: /loka ready/,
    env: { ...all, LOKA_PORT: String(port) },
    logFile: join(own, 'server.log'),
  });
  return { url: `http://localhost:${port}`, building };
}
