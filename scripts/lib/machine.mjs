import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { brotliCompress, gzip } from 'node:zlib';
import { findProgram, ROOT } from './places.mjs';
import { run } from './processes.mjs';
import { say, Stop } from './say.mjs';

const brotli = promisify(brotliCompress);
const gzipped = promisify(gzip);

/** How Node runs the server: with room for what only passes through, such as the rows of a year. */
export const SERVER_FLAGS = ['--max-semi-space-size=32'];

/** Debian packages by the program that shows whether they are there. */
const PACKAGES = {
  mariadbd: ['mariadb-server-core', 'mariadb-client-core'],
  chromium: ['chromium'],
  // Chromium without a window: nothing is drawn for a window that nobody sees.
  'chromium-headless-shell': ['chromium-headless-shell'],
  mbpoll: ['mbpoll'],
  mosquitto: ['mosquitto'],
  mosquitto_sub: ['mosquitto-clients'],
  socat: ['socat'],
  openssl: ['openssl'],
  pymodbus: ['python3-pymodbus', 'python3-serial', 'python3-serial-asyncio'],
};
/** What is no program of its own: the file that shows it is there. */
const FILES = { pymodbus: '/usr/lib/python3/dist-packages/pymodbus/__init__.py' };
/** While it exists, packages do not start the services that they bring (Debian's policy-rc.d). */
const NO_SERVICES = '/usr/sbin/policy-rc.d';

/** Installs the Debian packages of programs that are missing. @throws Stop */
export async function needPrograms(...names) {
  const missing = names.filter((name) => !(name in FILES ? existsSync(FILES[name]) : findProgram(name)));
  if (missing.length === 0) return;
  const packages = missing.flatMap((name) => PACKAGES[name]);
  if (process.getuid?.() !== 0)
    throw new Stop(
      `These Debian packages are missing: ${packages.join(' ')}. Install them with: sudo apt-get install ${packages.join(' ')}`,
    );
  say(`installing Debian packages: ${packages.join(', ')}`);
  const env = { DEBIAN_FRONTEND: 'noninteractive' };
  await run('apt-get', ['update', '-qq'], { what: 'apt-get update', env, quiet: true });
  const held = !existsSync(NO_SERVICES);
  if (held) writeFileSync(NO_SERVICES, '#!/bin/sh\nexit 101\n', { mode: 0o755 });
  try {
    await run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...packages], {
      what: 'apt-get install',
      env,
      quiet: true,
    });
  } finally {
    if (held) rmSync(NO_SERVICES);
  }
}

/** Installs the npm packages when the lock file is not the one that they were installed from. @throws Stop */
export async function needPackages() {
  const stamp = join(ROOT, 'node_modules', '.loka-lock');
  const lock = hashOf([join(ROOT, 'package-lock.json')]);
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  say('installing npm packages (a few minutes the first time)');
  await run('npm', ['ci', '--ignore-scripts', '--no-audit', '--no-fund', '--loglevel=error'], {
    what: 'npm ci',
    cwd: ROOT,
  });
  writeFileSync(stamp, lock);
}

/** Builds what is not built from the sources as they are now. @throws Stop */
export async function needBuild() {
  // Beside what was built, so that it is as new as that.
  const stamp = join(ROOT, 'var', 'built');
  const folders = ['core/src', 'contract/src', 'server/src', 'fieldsim/src', 'bench/src', 'web/src'].map(
    (f) => join(ROOT, f),
  );
  const files = ['package-lock.json', 'tsconfig.base.json', 'web/vite.config.ts', 'web/index.html'].map((f) =>
    join(ROOT, f),
  );
  const sources = hashOf([...files, ...folders.flatMap(filesBelow)]);
  const complete = ['server/dist/main.js', 'fieldsim/dist/main.js', 'web/dist/index.html'].every((f) =>
    existsSync(join(ROOT, f)),
  );
  if (complete && existsSync(stamp) && readFileSync(stamp, 'utf8') === sources) return;
  say('building');
  mkdirSync(join(ROOT, 'var'), { recursive: true });
  await run(process.execPath, [join(ROOT, 'node_modules/typescript/bin/tsc'), '-b'], {
    what: 'type check and build (tsc -b)',
    cwd: ROOT,
  });
  await run(process.execPath, [join(ROOT, 'node_modules/vite/bin/vite.js'), 'build', '--logLevel', 'warn'], {
    what: 'build of the screens (vite)',
    cwd: join(ROOT, 'web'),
  });
  await compressScreens(join(ROOT, 'web/dist'));
  writeFileSync(stamp, sources);
}

/** Beside each file of the screens the same compressed, as browsers ask for it. */
export async function compressScreens(folder) {
  const worth = filesBelow(folder).filter((path) => /\.(js|css|html|svg|json)$/.test(path));
  await Promise.all(
    worth.map(async (path) => {
      const text = readFileSync(path);
      writeFileSync(`${path}.br`, await brotli(text));
      writeFileSync(`${path}.gz`, await gzipped(text, { level: 9 }));
    }),
  );
}

function filesBelow(folder) {
  return readdirSync(folder, { recursive: true })
    .map((name) => join(folder, name))
    .filter((path) => statSync(path).isFile())
    .sort();
}

function hashOf(files) {
  const hash = createHash('sha256');
  for (const file of files)
    if (existsSync(file)) hash.update(file.slice(ROOT.length)).update(readFileSync(file));
  return hash.digest('hex');
}
