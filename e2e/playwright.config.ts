import { defineConfig } from '@playwright/test';

const BENCH = /\/(calibrate|verify|outputs|deviceSettings|nothingLost|fastLook)\.spec\.ts$/;

// scripts/test.mjs starts Loka and the building, and says where they are.
export default defineConfig({
  testDir: '.',
  // Two sites, one test at a time on each: those of the bench, and of many tabs, wait much.
  workers: 2,
  projects: [
    { name: 'bench', testMatch: BENCH, workers: 1 },
    { name: 'site', testIgnore: BENCH, workers: 1 },
  ],
  retries: 0,
  timeout: 120_000,
  expect: { timeout: 15_000 },
  reporter: [['list'], ['json', { outputFile: process.env.LOKA_E2E_REPORT ?? 'test-results/report.json' }]],
  outputDir: '../test-results',
  use: {
    baseURL: process.env.LOKA_URL ?? 'http://localhost:8420',
    viewport: { width: 1280, height: 800 },
    trace: 'retain-on-failure',
    launchOptions: {
      executablePath: process.env.LOKA_CHROMIUM ?? '/usr/bin/chromium',
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
