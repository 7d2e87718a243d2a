export { BuildLogs } from './BuildLogs'
export { useBuildLogs } from './build-logs.api'
export { logId } from './log-id'
export { LogPane } from './LogPane'
