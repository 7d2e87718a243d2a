// What other subjects may use of the audit trail.
export { auditAsCsv, listAudit, noteAudit, placeOf } from './audit.js'
