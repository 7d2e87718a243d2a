export default {
  testEnvironment: 'node',
  transform: {},
  roots: ['<rootDir>/packages/core/dist', '<rootDir>/packages/server/dist', '<rootDir>/packages/standins/dist'],
  testMatch: ['**/*.test.js'],
  testTimeout: 30000,
}
