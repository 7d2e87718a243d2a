const common = { transform: {}, rootDir: import.meta.dirname }

export default {
  // Two workers share two cores, and some tests start git dozens of times: a slow machine is no failure.
  testTimeout: 90000,
  // One worker for each core: by itself Jest keeps one core free, which on two is half. Each file leaves something of itself in its
  // worker, and collecting that slows down the files after it: a worker that grew is replaced between files.
  maxWorkers: '100%',
  workerIdleMemoryLimit: '700MB',
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
      // The tests of the server speak to it through a client that a generator makes of the API's description.
      globalSetup: '<rootDir>/scripts/before-tests.mjs',
      globalTeardown: '<rootDir>/scripts/after-tests.mjs',
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
