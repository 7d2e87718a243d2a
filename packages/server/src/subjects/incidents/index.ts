// What other subjects may use of incidents.
export { endToldIncident, openIncidentByRule, openToldIncident } from './incidents.commands.js'
