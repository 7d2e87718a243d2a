export default {
  testEnvironment: 'node',
  transform: {},
  roots: ['<rootDir>/e2e/dist'],
  testMatch: ['**/*.test.js'],
  testTimeout: 90000,
  bail: 0,
  globalSetup: '<rootDir>/scripts/before-tests.mjs',
  globalTeardown: '<rootDir>/scripts/after-tests.mjs',
  // A journey keeps half of two cores busy: its browser and its programs wait for each other.
  maxWorkers: '100%',
}
