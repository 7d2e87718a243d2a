export { AuditTrail } from './AuditTrail'
export { Health } from './Health'
