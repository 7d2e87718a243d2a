// What other subjects may use of routing.
export { dayOf, mondayOf, onDuty, routeNewItem } from './routing.commands.js'
