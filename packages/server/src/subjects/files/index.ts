// What other subjects may use of files: nothing but its routes, which the application adds.
export { addFilesRoutes } from './files.routes.js'
