// What other subjects may use of ladder.
export { readLadderInput } from './ladder-evidence.js'
export type { Reading } from './move-ladders.js'
