export { TriagePane } from './TriagePane'
export { DecisionPane } from './DecisionPane'
