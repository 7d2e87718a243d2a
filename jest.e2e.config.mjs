export default {
  testEnvironment: 'node',
  transform: {},
  roots: ['<rootDir>/e2e/dist'],
  testMatch: ['**/*.test.js'],
  testTimeout: 90000,
  bail: 0,
  // Each file has ports and data of its own; one waits for its browser while the other computes.
  maxWorkers: 2,
}
