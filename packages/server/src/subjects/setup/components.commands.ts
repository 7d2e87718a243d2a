import { isPerson } from '#subjects/people/index'
import { Problem } from '@dystracer/core/basics/problem'
import type { AddComponent } from '@dystracer/core/setup/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { Who } from '@dystracer/core/people/who'
import { requireProject } from './setup.commands.js'
import { GET_COMPONENT, HAS_REPOSITORY_BY_REPOSITORY } from './components.queries.js'

/** Adds a component, or says anew who keeps it and where its code lies; what is not said stays as it was. */
export function addComponent(ctx: ServiceContext, who: Who, project: string, input: AddComponent): void {
  requireProject(ctx.db, project)
  if (input.repository != null && !sql(ctx.db, HAS_REPOSITORY_BY_REPOSITORY).get({ repository: input.repository }))
    throw new Problem('invalid-input', { fields: { repository: `There is no repository ${input.repository}` } })
  if (input.keeperId != null && !isPerson(ctx.db, input.keeperId))
    throw new Problem('invalid-input', { fields: { keeperId: 'There is no such person' } })
  const known = sql(ctx.db, GET_COMPONENT).get<ComponentRow>({ project, name: input.name })
  const { keeperId = known?.keeperId ?? null, repository = known?.repository ?? null, pathPrefix = known?.pathPrefix ?? null } = input
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'component-added',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { project, name: input.name, keeperId, repository, pathPrefix: repository === null ? null : pathPrefix },
    })
  })
}

/** Takes a component off the project; items that name it keep the word. Throws `not-found`. */
export function removeComponent(ctx: ServiceContext, who: Who, project: string, name: string): void {
  if (!sql(ctx.db, GET_COMPONENT).get({ project, name })) throw new Problem('not-found', { detail: `There is no component ${name}.` })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'component-removed', actor: who.actor, subjects: [`project:${project}`], body: { project, name } })
  })
}

interface ComponentRow {
  keeperId: string | null
  repository: string | null
  pathPrefix: string | null
}
