/** Unit tests in native ESM: every package but e2e, which Playwright runs. */
export default {
  testMatch: ['<rootDir>/{core,cli,demo,server,app}/src/**/*.test.ts'],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: {
    '^.+\\.tsx?$': [
      '@swc/jest',
      { jsc: { parser: { syntax: 'typescript', tsx: false }, target: 'es2022' }, module: { type: 'es6' } },
    ],
  },
  moduleNameMapper: { '^(\\.{1,2}/.*)\\.js$': '$1' },
  setupFiles: ['fake-indexeddb/auto'],
  testTimeout: 60000,
};
