import { defineConfig } from '@playwright/test';

/** On a sample site of their own, whose building they rewire; and what is drawn there. */
const BENCH = /\/(calibrate|verify|outputs|deviceSettings|nothingLost|fastLook|plans)\.spec\.ts$/;
/** On sites that begin empty; and, so that all three take as long, what keeps to itself on the sample site. */
const EMPTY = /\/(byKeyboard|firstSlice|strangeDevices|everyScreen|dashboards)\.spec\.ts$/;

// scripts/test.mjs starts Loka and the building, and says where they are.
export default defineConfig({
  testDir: '.',
  // One test at a time on each site; they wait more than they compute, so that three go well on two cores.
  workers: 3,
  projects: [
    { name: 'bench', testMatch: BENCH, workers: 1 },
    { name: 'empty', testMatch: EMPTY, workers: 1 },
    { name: 'sample', testIgnore: [BENCH, EMPTY], workers: 1 },
  ],
  retries: 0,
  // Limits only end what hangs: a machine that is kept busy by others takes several times as long as one that is not.
  timeout: 300_000,
  expect: { timeout: 40_000 },
  reporter: [['list'], ['json', { outputFile: process.env.LOKA_E2E_REPORT ?? 'test-results/report.json' }]],
  outputDir: '../test-results',
  use: {
    // What cannot be pressed says so at its place, and not by the whole story's time.
    actionTimeout: 60_000,
    baseURL: process.env.LOKA_URL ?? 'http://localhost:8420',
    viewport: { width: 1280, height: 800 },
    trace: process.env.LOKA_TRACE === '1' ? 'retain-on-failure' : 'off',
    launchOptions: {
      executablePath: process.env.LOKA_CHROMIUM ?? '/usr/bin/chromium-headless-shell',
      args: [
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--disable-gpu',
      ],
    },
  },
});
