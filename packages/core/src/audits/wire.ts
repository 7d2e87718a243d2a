import { operation } from '#people/operation'
import { zMoment } from '#past/wire'
import { PROOF_STATES } from '#threads/audit-report'
import { z } from 'zod'

/** How often a report is kept by itself. */
export const AUDIT_RHYTHMS = ['never', 'week', 'month'] as const
const zRhythm = z.enum(AUDIT_RHYTHMS)
export type AuditRhythm = z.infer<typeof zRhythm>

/** What a report counted: requirements by how far they were proved, open gaps, ties to look at again. */
export const zAuditFigures = z.object({
  requirements: z.number().int(),
  states: z.record(z.enum(PROOF_STATES), z.number().int()),
  gaps: z.number().int(),
})
export type AuditFigures = z.infer<typeof zAuditFigures>

/** A report that is kept: it is read as of its moment, below `/api/past/MOMENT/v1`. */
export const zKeptReport = z.object({
  at: zMoment,
  words: z.string(),
  /** Who kept it; the clock for one of the schedule. */
  by: z.string(),
  figures: zAuditFigures,
})
export type KeptReport = z.infer<typeof zKeptReport>

const answer = z.object({ every: zRhythm, rows: z.array(zKeptReport) })

/** What can be asked of kept reports. */
export const auditsOperations = {
  listKeptReports: operation({
    method: 'get',
    path: '/projects/:project/audit-reports',
    summary: 'Reports for audits that are kept, the newest first, and how often one is by itself',
    may: 'project.read',
    about: 'project',
    answer,
  }),
  keepReport: operation({
    method: 'post',
    path: '/projects/:project/audit-reports',
    summary: 'Keep the report as it stands now',
    may: 'requirements.write',
    about: 'project',
    body: z.strictObject({ words: z.string().trim().max(500).default('') }),
    answer,
    status: 201,
  }),
  scheduleReports: operation({
    method: 'put',
    path: '/projects/:project/audit-reports/schedule',
    summary: 'Say how often a report is kept by itself',
    may: 'requirements.write',
    about: 'project',
    body: z.strictObject({ every: zRhythm }),
    answer,
  }),
}
