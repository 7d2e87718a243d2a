import type { Who } from '@dystracer/core/people/who'
import type { RequirementsEvents } from '@dystracer/core/requirements/events'
import type { AcceptedWriting } from '@dystracer/core/requirements/writing-wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { LIST_ACCEPTED_WRITING } from './exchange.queries.js'
import { requireInProject } from './requirements.commands.js'

/** Findings of how the requirements of a project are written that somebody lets stand. */
export function listAcceptedWriting(ctx: ServiceContext, project: string): { accepted: AcceptedWriting[] } {
  return { accepted: sql(ctx.db, LIST_ACCEPTED_WRITING).all<AcceptedWriting>({ project }) }
}

/** Lets a finding stand, with the reason, or lets it count again. Throws `invalid-input` for a requirement of another project. */
export function acceptWriting(ctx: ServiceContext, who: Who, project: string, input: RequirementsEvents['writing-accepted']): void {
  requireInProject(ctx, { project, key: input.key, field: 'key' })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'writing-accepted', actor: who.actor, subjects: [`requirement:${input.key}`], body: input })
  })
}
