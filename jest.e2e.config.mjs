export default {
  testEnvironment: 'node',
  transform: {},
  roots: ['<rootDir>/e2e/dist'],
  testMatch: ['**/*.test.js'],
  testTimeout: 90000,
  bail: 0,
  maxWorkers: 1,
}
