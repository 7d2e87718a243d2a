export { FileLink } from './FileLink'
export { FilePane } from './FilePane'
export { FoundLines } from './FoundLines'
export { ItemCode } from './ItemCode'
