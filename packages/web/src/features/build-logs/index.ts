export { BuildLogs } from './BuildLogs'
export { LogPane } from './LogPane'
