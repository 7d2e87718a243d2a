import { asideTrouble } from '@dystracer/core/basics/days'
import { firstSentence } from '@dystracer/core/builds/reports/sarif'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { GET_FINDING } from './findings.queries.js'

/** Sets a finding aside until a day, or counts it again. Throws `not-found`, and `invalid-input` for a day that is over or too far. */
export function setFindingAside(
  ctx: ServiceContext,
  who: Who,
  repository: string,
  { tool, identity, until, why }: { tool: string; identity: string; until: string | null; why: string },
): void {
  const known = sql(ctx.db, GET_FINDING).get<{ ruleId: string; message: string }>({ repository, tool, identity })
  if (!known) throw new Problem('not-found', { detail: `No report about ${repository} holds such a finding.` })
  const trouble = until === null ? null : asideTrouble(until, ctx.nowMs())
  if (trouble !== null) throw new Problem('invalid-input', { fields: { until: trouble } })
  const what = (firstSentence(known.message) || known.ruleId).slice(0, 200)
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'finding-set-aside',
      actor: who.actor,
      subjects: [`repository:${repository}`],
      body: { repository, tool, identity, what, untilDay: until, why },
    })
  })
}
