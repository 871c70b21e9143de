// npm run mutate: changes core in small ways and sees whether a test notices. Its own command: it takes many minutes.
export default {
  testRunner: 'jest',
  testRunnerNodeArgs: ['--experimental-vm-modules'],
  jest: { projectType: 'custom', configFile: 'jest.core.config.mjs' },
  mutate: [
    'core/src/**/*.ts',
    '!core/src/**/*.test.ts',
    '!core/src/**/index.ts',
    '!core/src/**/*efinition.ts',
  ],
  ignorePatterns: ['var', 'web/dist', 'docs', 'server/dist', 'e2e'],
  // Words on screens and in messages are not held by tests letter by letter.
  mutator: { excludedMutations: ['StringLiteral'] },
  coverageAnalysis: 'perTest',
  concurrency: 2,
  reporters: ['clear-text', 'progress-append-only', 'json'],
  clearTextReporter: { allowColor: false, logTests: false, reportTests: false },
  jsonReporter: { fileName: 'var/mutation.json' },
  tempDirName: 'var/stryker',
  ignoreStatic: true,
  thresholds: { high: 90, low: 80, break: null },
};
