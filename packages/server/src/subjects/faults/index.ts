// What other subjects may use of faults.
export { readFaultFrames, readFaultSummary } from './faults.views.js'
export { receiveSourceMap } from './source-maps.commands.js'
