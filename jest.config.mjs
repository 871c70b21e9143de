const shared = {
  runner: '<rootDir>/scripts/jest/runner.mjs',
  // What is sent is described by decorators, which rest on it; each program reads it first.
  setupFiles: ['<rootDir>/scripts/jest/worker.mjs', 'reflect-metadata'],
  setupFilesAfterEnv: ['<rootDir>/scripts/jest/timeouts.mjs'],
  transform: {},
  // The mutation tester keeps a copy of everything there.
  modulePathIgnorePatterns: ['<rootDir>/var/'],
};

export default {
  projects: [
    {
      ...shared,
      displayName: 'units',
      testMatch: ['<rootDir>/{core,contract,fieldsim,server,web}/src/**/*.test.ts'],
    },
    {
      ...shared,
      displayName: 'server',
      testMatch: ['<rootDir>/server/test/**/*.test.ts'],
      globalSetup: '<rootDir>/server/test/support/globalSetup.mjs',
      globalTeardown: '<rootDir>/server/test/support/globalTeardown.mjs',
    },
  ],
};
