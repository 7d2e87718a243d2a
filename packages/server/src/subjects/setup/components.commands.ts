import { isPerson } from '#subjects/people/index'
import { Problem } from '@dystracer/core/basics/problem'
import type { AddComponent } from '@dystracer/core/setup/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { Who } from '@dystracer/core/people/who'
import { requireProject } from './setup.commands.js'
import { HAS_REPOSITORY_BY_REPOSITORY } from './components.queries.js'

/** Adds a component, or says anew who keeps it and where its code lies. */
export function addComponent(ctx: ServiceContext, who: Who, project: string, input: AddComponent): void {
  requireProject(ctx.db, project)
  if (input.repository != null && !sql(ctx.db, HAS_REPOSITORY_BY_REPOSITORY).get({ repository: input.repository }))
    throw new Problem('invalid-input', { fields: { repository: `There is no repository ${input.repository}` } })
  if (input.keeperId != null && !isPerson(ctx.db, input.keeperId))
    throw new Problem('invalid-input', { fields: { keeperId: 'There is no such person' } })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'component-added',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { project, name: input.name, keeperId: input.keeperId ?? null, repository: input.repository ?? null, pathPrefix: null },
    })
  })
}
