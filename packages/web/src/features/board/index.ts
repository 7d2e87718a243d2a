export { BoardPane } from './BoardPane'
