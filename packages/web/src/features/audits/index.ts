export { KeptReports } from './KeptReports'
