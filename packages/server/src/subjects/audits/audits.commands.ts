import { isReportDue } from '@dystracer/core/audits/due'
import type { AuditFigures, AuditRhythm, KeptReport } from '@dystracer/core/audits/wire'
import { momentOf } from '@dystracer/core/past/moment'
import { STRANGER, type Who } from '@dystracer/core/people/who'
import { PROOF_STATES } from '@dystracer/core/threads/audit-report'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { archivedProjects } from '#subjects/people/index'
import { requireProject } from '#subjects/setup/index'
import { readAudit } from '#subjects/threads/index'
import { GET_LAST_REPORT, GET_SCHEDULE, LIST_KEPT_REPORT, LIST_SCHEDULE } from './audits.queries.js'

const LOOK_EVERY_MS = 15 * 60_000
const SECOND_MS = 1000

/** Reports for audits that are kept, the newest first, and how often one is by itself. */
export function listKeptReports(ctx: ServiceContext, project: string): { every: AuditRhythm; rows: KeptReport[] } {
  return {
    every: sql(ctx.db, GET_SCHEDULE).get<{ every: AuditRhythm }>({ project })?.every ?? 'never',
    rows: sql(ctx.db, LIST_KEPT_REPORT)
      .all<Omit<KeptReport, 'figures'> & { figures: string }>({ project })
      .map((row) => ({ ...row, figures: JSON.parse(row.figures) as AuditFigures })),
  }
}

/** Says how often a report is kept by itself. */
export function scheduleReports(ctx: ServiceContext, who: Who, project: string, every: AuditRhythm): void {
  requireProject(ctx.db, project)
  if (listKeptReports(ctx, project).every === every) return
  ctx.journal.write((writer) => {
    writer.append({ kind: 'audit-reports-scheduled', actor: who.actor, subjects: [`project:${project}`], body: { project, every } })
  })
}

/**
 * Keeps the report of a project as it stands now: its moment, and what it counts. The pages are not kept, since they are the same whenever
 * they are asked for as of then.
 */
export function keepReport(ctx: ServiceContext, actor: string, project: string, words: string): void {
  requireProject(ctx.db, project)
  // What was written up to now belongs to the second that ends next.
  const at = momentOf(Math.ceil(ctx.nowMs() / SECOND_MS) * SECOND_MS)
  const figures = figuresOf(ctx, project)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'audit-report-kept', actor, subjects: [`project:${project}`], body: { project, at, words, figures } })
  })
}

/** Keeps what is due, for each project that asked for it. */
export function keepDueReports(ctx: ServiceContext): void {
  const archived = archivedProjects(ctx.db)
  for (const { project, every } of sql(ctx.db, LIST_SCHEDULE).all<{ project: string; every: AuditRhythm }>({})) {
    const last = sql(ctx.db, GET_LAST_REPORT).get<{ at: string }>({ project })
    if (!archived.includes(project) && isReportDue(every, last ? Date.parse(last.at) : null, ctx.nowMs()))
      keepReport(ctx, 'system', project, every === 'week' ? 'of the week' : 'of the month')
  }
}

/** Keeps reports that are due for as long as the server runs. */
export function startKeepingReports(ctx: ServiceContext): void {
  ctx.jobs.every({ name: 'keeping reports for audits', everyMs: LOOK_EVERY_MS, run: () => keepDueReports(ctx) })
}

/** What the report counts as its readers see it: nothing confidential is counted. */
function figuresOf(ctx: ServiceContext, project: string): AuditFigures {
  const reader: Who = { ...STRANGER, roles: { [project]: 'reader' } }
  const { requirements, gaps } = readAudit(ctx, reader, project)
  const asked = requirements.filter(({ isHeading }) => !isHeading)
  const states = Object.fromEntries(PROOF_STATES.map((state) => [state, asked.filter((one) => one.state === state).length]))
  return {
    requirements: asked.length,
    states: states as AuditFigures['states'],
    gaps: gaps.filter(({ agreed }) => agreed === null).length,
  }
}
