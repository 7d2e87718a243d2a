import { GAP_CODES, type Gap, type GapCode, type Gaps } from '@dystracer/core/requirements/gaps-wire'
import type { Requirement } from '@dystracer/core/requirements/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { maySee } from '#subjects/records/index'
import { requireProject } from '#subjects/setup/index'
import { GET_REVISED_AT, LIST_AGREED, LIST_ITEM_NOT_RELEASED, LIST_ITEM_WITHOUT_REQUIREMENT } from './gaps.queries.js'
import { listRequirements, requirementKeysOf } from './requirements.views.js'

/** So many of each kind are listed; the rest is counted. */
const SHOWN_MAX = 100

/**
 * What is missing between what is asked for and its proof, the worst kind first. What people agreed to leave
 * is told as that until its day is over. Reads every requirement of the project once.
 */
export function listGaps(ctx: ServiceContext, who: Who, project: string, shownMax = SHOWN_MAX): Gaps {
  requireProject(ctx.db, project)
  const agreed = new Map(
    sql(ctx.db, LIST_AGREED)
      .all<{ code: GapCode; id: string } & NonNullable<Gap['agreed']>>({ project })
      .map(({ code, id, ...agreement }) => [`${code} ${id}`, agreement]),
  )
  const today = new Date(ctx.nowMs()).toISOString().slice(0, 10)
  const found = [...requirementGaps(ctx, who, project), ...itemGaps(ctx, who, project)].map((gap): Gap => {
    const agreement = agreed.get(`${gap.code} ${gap.id}`)
    return { ...gap, agreed: agreement && (agreement.until === null || agreement.until >= today) ? agreement : null }
  })
  const byCode = GAP_CODES.map((code) => ({ code, of: found.filter((gap) => gap.code === code) }))
  return {
    rows: byCode.flatMap(({ of }) => of.slice(0, shownMax)),
    counts: byCode.map(({ code, of }) => ({
      code,
      open: of.filter((gap) => gap.agreed === null).length,
      agreed: of.filter((gap) => gap.agreed !== null).length,
    })),
    more: byCode.reduce((sum, { of }) => sum + Math.max(0, of.length - shownMax), 0),
  }
}

type Found = Omit<Gap, 'agreed'>

function requirementGaps(ctx: ServiceContext, who: Who, project: string): Found[] {
  const own = requirementKeysOf(ctx, project)
  return listRequirements(ctx, who)
    .filter((row) => own.has(row.key) && !row.isHeading && !row.isRetired)
    .flatMap((row) =>
      codesOf(row).map(([code, by]) => ({
        code,
        kind: 'requirement' as const,
        id: row.key,
        title: row.title,
        by,
        ownerId: null,
        sinceMs: sql(ctx.db, GET_REVISED_AT).get<{ atMs: number | null }>({ key: row.key })?.atMs ?? null,
      })),
    )
}

function codesOf(row: Requirement): [GapCode, string[]][] {
  const codes: [GapCode, string[]][] = []
  if (row.brokenBy.length > 0) codes.push(['broken', row.brokenBy])
  if (row.failingTests > 0) codes.push(['failing-test', [`${row.failingTests} of ${row.tests}`]])
  if (row.suspects > 0) codes.push(['look-again', [String(row.suspects)]])
  if (row.implementedBy === 0) codes.push(['without-item', []])
  if (row.tests === 0) codes.push(['without-test', []])
  return codes
}

function itemGaps(ctx: ServiceContext, who: Who, project: string): Found[] {
  const read = (code: GapCode, statement: string) =>
    sql(ctx.db, statement)
      .all<{ key: string; title: string; ownerId: string | null; sinceMs: number }>({ project })
      .filter((row) => maySee(ctx.db, who, row.key))
      .map(({ key, ...row }): Found => ({ code, kind: 'item', id: key, by: [], ...row }))
  return [...read('item-without-requirement', LIST_ITEM_WITHOUT_REQUIREMENT), ...read('fix-not-released', LIST_ITEM_NOT_RELEASED)]
}

/** Says that a gap may stay. */
export function agreeGap(
  ctx: ServiceContext,
  who: Who,
  project: string,
  gap: { code: GapCode; id: string; reason: string; until: string | null },
): void {
  requireProject(ctx.db, project)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'gap-agreed', actor: who.actor, subjects: [subjectOf(gap)], body: { project, ...gap } })
  })
}

/** Takes such an agreement back. */
export function reopenGap(ctx: ServiceContext, who: Who, project: string, { code, id }: { code: GapCode; id: string }): void {
  requireProject(ctx.db, project)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'gap-reopened', actor: who.actor, subjects: [subjectOf({ code, id })], body: { project, code, id } })
  })
}

function subjectOf({ code, id }: { code: GapCode; id: string }): string {
  return code === 'item-without-requirement' || code === 'fix-not-released' ? `item:${id}` : `requirement:${id}`
}
