export { MatrixPane } from './MatrixPane'
export { ThreadPane, TracePane } from './TracePanes'
