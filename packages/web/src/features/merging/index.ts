export { MergeRow } from './MergeRow'
