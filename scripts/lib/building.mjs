import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './machine.mjs';
import { freePorts } from './ports.mjs';
import { run, start } from './processes.mjs';

const DAY = 86_400_000;
/** The building's devices in the order of their ports; the control port comes last. */
export const DEVICES = ['main-meter', 'oven-meter', 'clamp-node', 'relay-board'];
const SEED = 7;
const HISTORY_DAYS = 30;

/**
 * When the building's life began and which ports it has: kept, so that a second start is the same building.
 * `firstPort` 0 takes any, so that tests keep clear of a Loka that runs. Asked once a start, because two that make it at the same time would make two.
 */
export async function lifeOf(folder, firstPort = 15020) {
  const file = join(folder, 'building.json');
  if (existsSync(file)) return JSON.parse(readFileSync(file, 'utf8'));
  mkdirSync(folder, { recursive: true });
  const life = {
    since: Date.now() - HISTORY_DAYS * DAY,
    ports: await freePorts(DEVICES.length + 1, firstPort),
  };
  writeFileSync(file, JSON.stringify(life));
  return life;
}

/** Starts the simulated building. @returns its ports, and the address of its control port */
export async function startBuilding(folder, { since, ports }) {
  const args = [
    join(ROOT, 'fieldsim/dist/main.js'),
    '--seed',
    String(SEED),
    '--since',
    new Date(since).toISOString(),
    '--ports',
    ports.join(','),
  ];
  const process_ = await start(process.execPath, args, {
    what: 'the simulated building',
    ready: /building ready/,
    logFile: join(folder, 'building.log'),
  });
  return {
    ports: Object.fromEntries(DEVICES.map((name, i) => [name, ports[i]])),
    control: `http://127.0.0.1:${ports.at(-1)}`,
    stop: process_.stop,
  };
}

/** Writes what the building's devices would have read until now. @returns the file */
export async function writeHistory(folder, { since }) {
  const file = join(folder, 'history.csv');
  const args = [
    join(ROOT, 'fieldsim/dist/history.js'),
    '--seed',
    String(SEED),
    '--from',
    new Date(since).toISOString(),
    '--to',
    new Date().toISOString(),
    '--out',
    file,
  ];
  await run(process.execPath, args, { what: 'history of the building', quiet: true });
  return file;
}

/** Loads the sample site with its history, unless there is a site already. @returns what the import said */
export function loadSampleSite(folder, building, env, historyFile) {
  const site = JSON.parse(readFileSync(join(ROOT, 'fieldsim/sample-site.json'), 'utf8'));
  for (const link of site.links) link.port = building.ports[link.ref];
  const siteFile = join(folder, 'site.json');
  writeFileSync(siteFile, JSON.stringify(site));
  return run(
    process.execPath,
    [join(ROOT, 'server/dist/import/main.js'), siteFile, ...(historyFile ? [historyFile] : [])],
    { what: 'sample site', env, quiet: true },
  );
}
