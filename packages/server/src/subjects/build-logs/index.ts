// What other subjects may use of build logs.
export { removeOldLogs, takeBuildLog } from './build-logs.commands.js'
