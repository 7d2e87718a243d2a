import type { AuditFigures, AuditRhythm } from './wire.js'

/** The journal's events of kept reports and their bodies. */
export interface AuditsEvents {
  'audit-reports-scheduled': { project: string; every: AuditRhythm }
  /** A report is kept: not its pages, which are the same whenever they are asked for as of then, but its moment and what it counted. */
  'audit-report-kept': { project: string; at: string; words: string; figures: AuditFigures }
}
