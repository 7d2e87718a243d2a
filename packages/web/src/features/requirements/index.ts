export { RequirementPane, RequirementsPane } from './RequirementPanes'
