export { MaintenancePane } from './MaintenancePane'
