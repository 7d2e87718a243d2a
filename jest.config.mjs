export default {
  testEnvironment: 'node',
  transform: {},
  roots: ['<rootDir>/packages/core/dist', '<rootDir>/packages/server/dist', '<rootDir>/packages/standins/dist', '<rootDir>/packages/web/dist/types'],
  testMatch: ['**/*.test.js'],
  testTimeout: 30000,
}
