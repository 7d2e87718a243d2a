export { RequirementDocument } from './RequirementDocument'
