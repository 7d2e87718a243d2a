// What other subjects may use of incidents.
export { endToldIncident, openToldIncident } from './incidents.commands.js'
