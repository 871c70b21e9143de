import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { jestCommand } from './jest/command.mjs';
import { needBuild, needPackages, needPrograms } from './lib/machine.mjs';
import { findProgram, ROOT } from './lib/places.mjs';
import { startMariadb } from './lib/mariadb.mjs';
import { startLoka } from './lib/loka.mjs';
import { run, stopAll, stopOnSignals } from './lib/processes.mjs';
import { main, say } from './lib/say.mjs';

// npm test: everything there is, from the format of the code to a person's way through the running application.
// npm test -- e2e maps     only the last, and of that only what is named so
const [only, named] = process.argv.slice(2);
const node = process.execPath;
const bin = (path) => join(ROOT, 'node_modules', path);
const counts = { passed: 0, failed: 0 };
const failures = [];

await main(async () => {
  stopOnSignals();
  const folder = mkdtempSync(join(tmpdir(), 'loka-test-'));
  try {
    // Counterparts that are not ours: libmodbus' mbpoll, pymodbus, mosquitto with its clients, serial lines by socat.
    await needPrograms(
      'mariadbd',
      'chromium',
      'chromium-headless-shell',
      'mbpoll',
      'mosquitto',
      'mosquitto_sub',
      'socat',
      'openssl',
      'pymodbus',
    );
    await needPackages();
    if (only === 'e2e') await needBuild();
    else await codeAndUnits(folder);
    await playwright(folder);
  } finally {
    await stopAll();
    rmSync(folder, { recursive: true, force: true });
  }
  for (const failure of failures) console.log(`✗ ${failure}`);
  console.log(`\n${counts.passed} passed, ${counts.failed} failed`);
  return counts.failed === 0 ? 0 : 1;
});

/** The code itself, then units and the server. */
async function codeAndUnits(folder) {
  // What reads the code goes beside what builds it.
  await Promise.all([codeAsItIs(), built()]);
  await jest(folder);
}

async function codeAsItIs() {
  await check('format (prettier)', [bin('prettier/bin/prettier.cjs'), '--check', '--log-level', 'warn', '.']);
  await check('lint (eslint)', [bin('eslint/bin/eslint.js'), '.', '--max-warnings', '0']);
  await check('what imports what (dependency-cruiser)', [
    bin('dependency-cruiser/bin/dependency-cruise.mjs'),
    '--config',
    '.dependency-cruiser.cjs',
    ...['core', 'contract', 'server', 'web', 'fieldsim', 'bench'].map((floor) => `${floor}/src`),
  ]);
}

async function built() {
  say('build and types');
  await needBuild();
  counts.passed++;
  for (const project of ['web', 'e2e', 'tsconfig.tests.json'])
    await check(`types of ${project}`, [bin('typescript/bin/tsc'), '-p', project, '--noEmit']);
}

/** One check that passes or fails as a whole; the others go on. */
async function check(what, args) {
  say(what);
  try {
    await run(node, args, { what, cwd: ROOT });
    counts.passed++;
  } catch (error) {
    counts.failed++;
    failures.push(error.message.split('\n')[0]);
  }
}

async function jest(folder) {
  say('units and server (jest)');
  const report = join(folder, 'jest.json');
  // Most of the tests wait for devices more than they compute: six at a time also where there are but two cores.
  const { args, env } = jestCommand(['--forceExit', '--maxWorkers=6', '--json', `--outputFile=${report}`]);
  await tolerate(() => run(node, args, { what: 'jest', cwd: ROOT, env }));
  const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites, testResults } = JSON.parse(
    readFileSync(report, 'utf8'),
  );
  counts.passed += numPassedTests;
  counts.failed += numFailedTests + numRuntimeErrorTestSuites;
  for (const suite of testResults)
    for (const test of suite.assertionResults)
      if (test.status === 'failed') failures.push([...test.ancestorTitles, test.title].join(' › '));
  if (numPassedTests === 0) throw new Error('jest ran no test');
}

/** The running application in Debian's Chromium without its window: an empty site, and the sample site with its history, twice. */
async function playwright(folder) {
  say('the running application (playwright)');
  const databases = ['loka', 'loka_keys', 'loka_sample', 'loka_bench'];
  const database = await startMariadb(folder, { fast: true, databases });
  const empty = await startLoka(folder, 'empty', database, { LOKA_DB_NAME: 'loka' }, { days: 2 });
  const keys = await startLoka(
    folder,
    'keys',
    database,
    { LOKA_DB_NAME: 'loka_keys' },
    { shared: empty.building },
  );
  say('loading the sample site, and another one to be rewired');
  const [sample, bench] = await Promise.all(
    ['sample', 'bench'].map((name) =>
      startLoka(folder, name, database, { LOKA_DB_NAME: `loka_${name}` }, { withSample: true }),
    ),
  );
  const report = join(folder, 'playwright.json');
  const env = {
    LOKA_URL: empty.url,
    LOKA_KEYS_URL: keys.url,
    LOKA_BUILDING: empty.building.control,
    LOKA_PORTS: JSON.stringify(empty.building.ports),
    LOKA_SAMPLE_URL: sample.url,
    LOKA_SAMPLE_PORTS: JSON.stringify(sample.building.ports),
    LOKA_BENCH_URL: bench.url,
    LOKA_BENCH_PORTS: JSON.stringify(bench.building.ports),
    LOKA_CHROMIUM: findProgram('chromium-headless-shell'),
    LOKA_WHOLE_CHROMIUM: findProgram('chromium'),
    LOKA_E2E_REPORT: report,
  };
  await tolerate(() =>
    run(node, [bin('@playwright/test/cli.js'), 'test', '-c', 'e2e', ...(named ? [named] : [])], {
      what: 'playwright',
      cwd: ROOT,
      env,
    }),
  );
  const { stats, suites } = JSON.parse(readFileSync(report, 'utf8'));
  counts.passed += stats.expected;
  counts.failed += stats.unexpected + stats.flaky + stats.skipped;
  for (const title of failedTitles(suites)) failures.push(title);
  if (stats.expected === 0) throw new Error('playwright ran no test');
}

/** A test run that fails says so in its report. */
async function tolerate(work) {
  try {
    await work();
  } catch (error) {
    say(error.message.split('\n')[0]);
  }
}

function failedTitles(suites) {
  return suites.flatMap((suite) => [
    ...failedTitles(suite.suites ?? []),
    ...(suite.specs ?? []).filter((spec) => !spec.ok).map((spec) => spec.title),
  ]);
}
