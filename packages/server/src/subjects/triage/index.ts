// What other subjects may use of triage.
export { readStand, splitWithin } from './decisions.commands.js'
export { countWaiting, firstWaiting } from './queue.views.js'
