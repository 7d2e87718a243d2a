export { ImpactPane } from './ImpactPane'
export { MatrixPane } from './MatrixPane'
export { ThreadPane, TracePane } from './TracePanes'
