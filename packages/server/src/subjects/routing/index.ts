// What other subjects may use of routing.
export { dayOf, onDuty, routeNewItem } from './routing.commands.js'
