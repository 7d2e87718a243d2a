export { TriagePane } from './TriagePane'
export { DecisionPane } from './DecisionPane'
export { WeeksPane } from './WeeksPane'
