// What other subjects may use of intake.
export { applyRules, type GroupRow } from './apply-rules.js'
export { itemsOfFault } from './fault-items.js'
export { STANDS_FOR_FAULT } from './fault-items.queries.js'
export { hasHistory, readHistory, recentMinutes } from './histories.js'
export { logFromFault, proposalFor } from './log-from-fault.js'
export { readStand, writeStand } from './stands.js'
