export { IncidentPane } from './IncidentPane'
export { IncidentsPane } from './IncidentsPane'
