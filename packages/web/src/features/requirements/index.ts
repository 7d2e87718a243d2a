export { RequirementPane } from './RequirementPane'
export { RequirementsPane, RequirementTable } from './RequirementsPane'
