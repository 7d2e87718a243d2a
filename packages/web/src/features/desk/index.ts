export { DeskPane } from './DeskPane'
export { FindDialog } from './FindDialog'
