// What other subjects may use of hand.
export { takeWithin } from './hand.commands.js'
