export default {
  testEnvironment: 'node',
  transform: {},
  roots: [
    '<rootDir>/packages/core/dist',
    '<rootDir>/packages/server/dist',
    '<rootDir>/packages/standins/dist',
    '<rootDir>/packages/web/dist/types',
    '<rootDir>/scripts',
  ],
  testMatch: ['**/*.test.js', '**/*.test.mjs'],
  testTimeout: 30000,
}
