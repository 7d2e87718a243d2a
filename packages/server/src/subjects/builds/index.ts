// What other subjects may use of builds.
export { logFailingTests, receiveSarif } from './quality-items.js'
export { receiveJunit, requireRepository } from './receive-junit.js'
export { itemsOfBuild } from './items-of-build.js'
