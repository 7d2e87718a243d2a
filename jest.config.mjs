import { availableParallelism } from 'node:os'

const common = { transform: {}, rootDir: import.meta.dirname }
// `scripts/bundle-tests.mjs` puts the tests into few files, which load faster; without it each is loaded as it was built.
const isBundled = process.env.DYSTRACER_BUNDLED_TESTS === '1'
const testsOf = (name, built = 'dist') => `<rootDir>/packages/${name}/${isBundled ? '.tests' : built}`

export default {
  // Two workers share two cores, and some tests start git dozens of times: a slow machine is no failure.
  testTimeout: 90000,
  // Three workers on two cores: many tests wait for a git or a thread meanwhile. Each file leaves something of itself in its worker, and
  // collecting that slows down the files after it: a worker that grew is replaced between files.
  maxWorkers: Math.ceil(availableParallelism() * 1.5),
  workerIdleMemoryLimit: '700MB',
  projects: [
    {
      ...common,
      displayName: 'rooms',
      testEnvironment: 'node',
      roots: [testsOf('core'), testsOf('server'), testsOf('standins'), testsOf('web', 'dist/types'), '<rootDir>/scripts'],
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
      roots: [testsOf('web', 'dist/types')],
      testMatch: ['**/*.shown.test.js'],
    },
  ],
}
