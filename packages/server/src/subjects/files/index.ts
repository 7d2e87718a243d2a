// What other subjects may use of files.
export { addFilesRoutes } from './files.routes.js'
export { codeOfItem } from './item-code.views.js'
