import { Problem } from '@dystracer/core/basics/problem'
import { mayIn } from '@dystracer/core/people/standing'
import type { Who } from '@dystracer/core/people/who'
import type { Leave, Left } from '@dystracer/core/projects/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { planChange, writeChange } from '#subjects/items/index'
import { membershipsOf, requireMember, requireRight, writeAccountClosed, writeRoleTaken } from '#subjects/people/index'
import { LIST_COMPONENTS_OF_KEEPER, LIST_DUTY_OF_PERSON, LIST_OPEN_ITEMS_OF_OWNER } from './leaving.queries.js'

const WEEK_MS = 7 * 86_400_000

/**
 * Somebody leaves: their open items, the components that they keep and their weeks of duty go to whoever
 * takes over (or to nobody), and they are out of the project, in one write. With `closesAccount` they leave
 * every project, and cannot sign in any more. What they did stays under their name. Throws `not-found`,
 * `not-allowed`, `invalid-input` for who takes over, `conflict` for the last administrator and for oneself.
 */
export function leave(ctx: ServiceContext, who: Who, { project, personId }: { project: string; personId: string }, input: Leave): Left {
  if (who.personId === personId)
    throw new Problem('conflict', { detail: 'Somebody else takes you out: you would lose the right to finish it.' })
  requireMember(ctx.db, { project, personId })
  if (input.closesAccount) requireRight(who, 'people.make-admin', project)
  const projects = input.closesAccount ? membershipsOf(ctx.db, personId).map((membership) => membership.project) : [project]
  const blind = projects.filter((each) => !mayIn(who, 'people.invite', each))
  if (blind.length > 0)
    throw new Problem('not-allowed', {
      detail:
        `They also belong to ${blind.length === 1 ? 'a project' : `${blind.length} projects`} where you may not take ` +
        `people out. Ask who leads there.`,
    })
  const left: Left = { items: 0, components: 0, weeks: 0 }
  ctx.journal.write((writer) => {
    for (const each of projects) {
      // In an archived project all stays as it was, under their name.
      if (!who.archived?.includes(each)) {
        const heir = heirIn(ctx, each, input.handOverTo)
        left.items += handOverItems(ctx, writer, who, { project: each, personId, heir })
        left.components += handOverComponents(ctx, writer, who, { project: each, personId, heir })
        left.weeks += handOverDuty(ctx, writer, who, { project: each, personId, heir })
      }
      writeRoleTaken(ctx, writer, who, { project: each, personId })
    }
    if (input.closesAccount) writeAccountClosed(ctx, writer, who, personId)
  })
  return left
}

interface HandOver {
  project: string
  personId: string
  heir: string | null
}

/** Who takes over in a project: the one who was named, where they belong to it. */
function heirIn(ctx: ServiceContext, project: string, handOverTo: string | null): string | null {
  if (handOverTo === null) return null
  if (membershipsOf(ctx.db, handOverTo).some((membership) => membership.project === project)) return handOverTo
  throw new Problem('invalid-input', { fields: { handOverTo: `They are no member of ${project}` } })
}

function handOverItems(ctx: ServiceContext, writer: JournalWriter, who: Who, { project, personId, heir }: HandOver): number {
  const keys = sql(ctx.db, LIST_OPEN_ITEMS_OF_OWNER).all<{ key: string }>({ personId, project })
  for (const { key } of keys) writeChange(ctx, writer, who, key, planChange(ctx, who, key, { ownerId: heir }))
  return keys.length
}

function handOverComponents(ctx: ServiceContext, writer: JournalWriter, who: Who, { project, personId, heir }: HandOver): number {
  const rows = sql(ctx.db, LIST_COMPONENTS_OF_KEEPER).all<{ name: string; repository: string | null; pathPrefix: string | null }>({
    project,
    personId,
  })
  for (const row of rows)
    writer.append({
      kind: 'component-added',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { ...row, project, keeperId: heir },
    })
  return rows.length
}

/** Weeks that are over stay as they were. */
function handOverDuty(ctx: ServiceContext, writer: JournalWriter, who: Who, { project, personId, heir }: HandOver): number {
  const fromOn = new Date(ctx.nowMs() - WEEK_MS).toISOString().slice(0, 10)
  const weeks = sql(ctx.db, LIST_DUTY_OF_PERSON).all<{ weekOn: string }>({ project, personId, fromOn })
  for (const { weekOn } of weeks)
    writer.append({ kind: 'duty-set', actor: who.actor, subjects: [`project:${project}`], body: { project, weekOn, personId: heir } })
  return weeks.length
}
