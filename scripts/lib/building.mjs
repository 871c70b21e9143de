import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { account, giveTo } from './account.mjs';
import { ROOT } from './places.mjs';
import { freePorts } from './ports.mjs';
import { run, start } from './processes.mjs';

const DAY = 86_400_000;
const SEED = 7;
const HISTORY_DAYS = 30;

/**
 * When the building's life began and which ports it has: kept, so that a second start is the same building.
 * `firstPort` 0 takes any, so that tests keep clear of a Loka that runs; `zone` has it live by another clock, `days` is how old it is. Asked once a start, because two that make it at the same time would make two.
 */
export async function lifeOf(folder, firstPort = 15020, { zone, days = HISTORY_DAYS } = {}) {
  const file = join(folder, 'building.json');
  const kept = existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : null;
  if (kept?.ports.broker) return kept;
  mkdirSync(folder, { recursive: true });
  // Built by now: everything of the building that listens at a port, the one that controls it last.
  const { PORT_NAMES } = await import('../../fieldsim/dist/run.js');
  const free = await freePorts(PORT_NAMES.length, firstPort);
  const life = {
    since: Date.now() - days * DAY,
    zone,
    ports: Object.fromEntries(PORT_NAMES.map((name, i) => [name, free[i]])),
  };
  writeFileSync(file, JSON.stringify(life));
  return life;
}

/** Starts the simulated building. @returns its ports, and the address of its control port */
export async function startBuilding(folder, { since, zone, ports }) {
  const args = [
    join(ROOT, 'fieldsim/dist/main.js'),
    '--seed',
    String(SEED),
    '--since',
    new Date(since).toISOString(),
    ...(zone ? ['--zone', zone] : []),
    '--ports',
    Object.entries(ports)
      .map((pair) => pair.join('='))
      .join(','),
  ];
  const process_ = await start(process.execPath, args, {
    what: 'the simulated building',
    as: account(),
    ready: /building ready/,
    logFile: join(folder, 'building.log'),
  });
  return {
    ports,
    zone,
    control: `http://127.0.0.1:${ports.control}`,
    stop: process_.stop,
  };
}

/** Writes what the building's devices would have read until now. @returns the file */
export async function writeHistory(folder, { since, zone }) {
  const file = join(folder, 'history.csv');
  const args = [
    join(ROOT, 'fieldsim/dist/history.js'),
    '--seed',
    String(SEED),
    '--from',
    new Date(since).toISOString(),
    '--to',
    new Date().toISOString(),
    ...(zone ? ['--zone', zone] : []),
    '--out',
    file,
  ];
  await run(process.execPath, args, { what: 'history of the building', quiet: true });
  return file;
}

/** Loads the sample site with its history, unless there is a site already. @returns what the import said */
export function loadSampleSite(folder, building, env, historyFile) {
  const site = JSON.parse(readFileSync(join(ROOT, 'fieldsim/sample-site.json'), 'utf8'));
  for (const link of site.links)
    if (building.ports[link.ref] !== undefined) link.port = building.ports[link.ref];
  if (building.zone) site.site.timeZone = building.zone;
  const siteFile = join(folder, 'site.json');
  writeFileSync(siteFile, JSON.stringify(site));
  giveTo(account(), siteFile);
  if (historyFile) giveTo(account(), historyFile);
  return run(
    process.execPath,
    [join(ROOT, 'server/dist/import/main.js'), siteFile, ...(historyFile ? [historyFile] : [])],
    { what: 'sample site', env, quiet: true, as: account() },
  );
}
