// What other subjects may use of threads.
export { readAudit } from './audit.views.js'
