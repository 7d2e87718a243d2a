// What other subjects may use of faults.
export { readFaultFrames, readFaultPlace, readFaultSummary } from './faults.views.js'
export { receiveSourceMap } from './source-maps.commands.js'
