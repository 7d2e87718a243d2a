// What other subjects may use of quality.
export { judgeCoverage, judgeFindings, judgeTests } from './judge-builds.js'
export { logFound, placeOf } from './quality-items.js'
