export { TiesOf } from './TiesOf'
export { UnexplainedList } from './UnexplainedList'
