import { SWC } from './scripts/jest/swc.mjs';

/** The units of core alone, for the mutation tester: in Jest's own runner, which is the one that it knows. */
export default {
  testMatch: ['<rootDir>/core/src/**/*.test.ts'],
  // The mutation tester keeps a copy of everything there.
  modulePathIgnorePatterns: ['<rootDir>/var/'],
  transform: { '^.+\\.ts$': ['@swc/jest', SWC] },
  extensionsToTreatAsEsm: ['.ts'],
  moduleNameMapper: { '^(\\.{1,2}/.*)\\.js$': '$1' },
  testEnvironment: 'node',
  testEnvironmentOptions: { customExportConditions: ['@loka/source', 'node', 'node-addons'] },
};
