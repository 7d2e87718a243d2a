export default {
  testEnvironment: 'node',
  transform: {},
  roots: ['<rootDir>/e2e/dist'],
  testMatch: ['**/*.test.js'],
  testTimeout: 90000,
  bail: 0,
  // A journey keeps two cores busy by itself: its browser on one, the programs on the other.
  maxWorkers: 1,
}
