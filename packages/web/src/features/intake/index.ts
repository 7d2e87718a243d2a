export { IntakeRules } from './IntakeRules'
export { RulePane } from './RulePane'
export { TrialPane } from './TrialPane'
