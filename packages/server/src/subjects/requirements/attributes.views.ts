import { definitionsOf, type AttributeDefinition } from '@dystracer/core/requirements/attributes'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { GET_OWN_ATTRIBUTES } from './exchange.queries.js'

/** The attributes that a project has of its own. */
export function ownAttributes(ctx: Pick<ServiceContext, 'db'>, project: string): AttributeDefinition[] {
  const row = sql(ctx.db, GET_OWN_ATTRIBUTES).get<{ attributes: string }>({ project })
  return row ? (JSON.parse(row.attributes) as AttributeDefinition[]) : []
}

/** All attributes of a project: the common ones and its own. */
export function attributesOf(ctx: Pick<ServiceContext, 'db'>, project: string): AttributeDefinition[] {
  return definitionsOf(ownAttributes(ctx, project))
}

/** The same for those who look: which of them are its own. */
export function listAttributes(ctx: ServiceContext, project: string): { rows: (AttributeDefinition & { isOwn: boolean })[] } {
  const own = new Set(ownAttributes(ctx, project).map(({ name }) => name))
  return { rows: attributesOf(ctx, project).map((one) => ({ ...one, isOwn: own.has(one.name) })) }
}

/** Definitions with others added, which win by name. */
export function withDefinitions(before: readonly AttributeDefinition[], further: readonly AttributeDefinition[]): AttributeDefinition[] {
  return [...new Map([...before, ...further].map((one) => [one.name, one])).values()]
}
