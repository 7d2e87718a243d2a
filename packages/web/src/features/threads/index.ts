export { ThreadPane, TracePane } from './TracePanes'
