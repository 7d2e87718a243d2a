export { RequirementPane } from './RequirementPane'
export { RequirementsPane, RequirementTable } from './RequirementsPane'
export { BaselinePane } from './BaselinePane'
