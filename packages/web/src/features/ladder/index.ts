export { LadderView, STAGE_NAME } from './LadderView'
