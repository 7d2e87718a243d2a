export { DriftLines, LadderView, STAGE_NAME } from './LadderView'
