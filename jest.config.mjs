import { bundles } from './scripts/lib/bundles.mjs';

const transform = {
  '^.+\\.ts$': [
    '@swc/jest',
    {
      swcrc: false,
      jsc: {
        target: 'es2022',
        parser: { syntax: 'typescript', decorators: true },
        transform: { legacyDecorator: true, decoratorMetadata: true, useDefineForClassFields: false },
      },
      module: { type: 'es6' },
    },
  ],
};
const shared = {
  // The mutation tester keeps a copy of everything there.
  modulePathIgnorePatterns: ['<rootDir>/var/'],
  transform,
  extensionsToTreatAsEsm: ['.ts'],
  moduleNameMapper: { ...(await bundles()), '^(\\.{1,2}/.*)\\.js$': '$1' },
  testEnvironment: 'node',
  testEnvironmentOptions: { customExportConditions: ['@loka/source', 'node', 'node-addons'] },
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
  testTimeout: 60_000,
};
