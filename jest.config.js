/** Unit tests in native ESM: every package but e2e, which Playwright runs. */
export default {
  testMatch: ['<rootDir>/{core,cli,demo,server,app}/src/**/*.test.{ts,tsx}'],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: { '^.+\\.(tsx?|m?js)$': '<rootDir>/jest.transform.mjs' },
  // What goes through millions of bytes or numbers of its own; the rest of the packages is taken as it is.
  transformIgnorePatterns: ['/node_modules/(?!(fflate|@zip\\.js|fast-check|pure-rand)/)'],
  moduleNameMapper: {
    '^(\\.{1,2}/.*)\\.js$': ['$1', '$1.js'],
    // How things look is tested in the browser.
    '\\.css$': '<rootDir>/jest.css.mjs',
  },
  testEnvironment: '<rootDir>/jest.node.mjs',
  setupFiles: ['fake-indexeddb/auto'],
  // A machine at work on something else is slow, not wrong.
  testTimeout: 240_000,
  maxWorkers: 2,
};
