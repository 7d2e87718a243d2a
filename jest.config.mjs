const common = { transform: {}, rootDir: import.meta.dirname }

export default {
  testTimeout: 30000,
  projects: [
    {
      ...common,
      displayName: 'rooms',
      testEnvironment: 'node',
      roots: [
        '<rootDir>/packages/core/dist',
        '<rootDir>/packages/server/dist',
        '<rootDir>/packages/cli/dist',
        '<rootDir>/packages/standins/dist',
        '<rootDir>/packages/web/dist/types',
        '<rootDir>/scripts',
      ],
      testMatch: ['**/*.test.js', '**/*.test.mjs'],
      testPathIgnorePatterns: ['/node_modules/', '\\.shown\\.test\\.js$'],
    },
    {
      ...common,
      // Parts of the interface, drawn and used as a person would, on a page without a browser.
      displayName: 'shown',
      testEnvironment: '<rootDir>/packages/web/browser-environment.mjs',
      roots: ['<rootDir>/packages/web/dist/types'],
      testMatch: ['**/*.shown.test.js'],
    },
  ],
}
