// What other subjects may use of the audit trail.
export { auditAsCsv, chainOlderAudit, findBrokenAudit, isTrailChained, listAudit, noteInOlderState, noteAudit, placeOf } from './audit.js'
