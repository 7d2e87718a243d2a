// What other subjects may use of builds.
export { ensureBuild, numberOfBuild } from './build-names.js'
export { breakOf, requireBuild } from './failures.views.js'
export { receiveReport, requireRepository } from './receive-report.js'
export { itemsOfBuild } from './items-of-build.js'
