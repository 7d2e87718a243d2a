export { CasePane } from './CasePane'
export { PlanPane } from './PlanPane'
export { RunPane } from './RunPane'
export { TestsPane } from './TestsPane'
