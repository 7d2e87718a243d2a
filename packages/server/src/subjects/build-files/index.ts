// What other subjects may use of the files that builds leave.
export { removeOldFiles, takeBuildFile } from './build-files.commands.js'
