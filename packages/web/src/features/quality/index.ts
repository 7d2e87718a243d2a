export { QualityRules } from './QualityRules'
