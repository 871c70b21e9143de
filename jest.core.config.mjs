import all from './jest.config.mjs';

const [units] = all.projects;

/** The units of core alone, for the mutation tester. */
export default { ...units, testMatch: ['<rootDir>/core/src/**/*.test.ts'] };
