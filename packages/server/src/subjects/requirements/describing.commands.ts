import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import { isSameValue, misfit, type AttributeDefinition, type Attributes } from '@dystracer/core/requirements/attributes'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { attributesOf } from './attributes.views.js'
import { GET_PICTURE, GET_RELATION, LIST_RELATED_UPWARDS, LIST_RELATION_OF_REQUIREMENT } from './exchange.queries.js'
import { mediaTypeOfPicture } from './pictures.js'
import { requirePath } from './imports.commands.js'
import { projectOfRequirement, requireInProject } from './requirements.commands.js'
import { requireRow } from './requirements.views.js'

/** Sets attributes of a requirement. Throws `invalid-input` by attribute: one that the project does not have, a value that does not fit. */
export function describeRequirement(ctx: ServiceContext, who: Who, key: string, attributes: Attributes): void {
  const now = JSON.parse(requireRow(ctx, key).attributes) as Attributes
  const known = new Map(attributesOf(ctx, projectOfRequirement(ctx, key)).map((one) => [one.name, one]))
  const fields = Object.entries(attributes).flatMap(([name, value]) => {
    const definition = known.get(name)
    const wrong = definition ? misfit(definition, value) : value.length === 0 ? null : `This project has no attribute ${name}`
    return wrong === null ? [] : [[name, wrong] as const]
  })
  if (fields.length > 0) throw new Problem('invalid-input', { fields: Object.fromEntries(fields) })
  const changed = Object.fromEntries(Object.entries(attributes).filter(([name, value]) => !isSameValue(now[name], value)))
  if (Object.keys(changed).length === 0) return
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'requirement-described',
      actor: who.actor,
      subjects: [`requirement:${key}`],
      body: { key, attributes: changed },
    })
  })
}

/** Says which attributes of its own a project has. Throws `invalid-input` for a name that stands twice, and for a choice without words. */
export function defineAttributes(ctx: ServiceContext, who: Who, project: string, attributes: readonly AttributeDefinition[]): void {
  const names = attributes.map(({ name }) => name.toLowerCase())
  const twice = attributes.find(({ name }, at) => names.indexOf(name.toLowerCase()) !== at)
  if (twice) throw new Problem('invalid-input', { fields: { attributes: `${twice.name} stands there twice` } })
  const empty = attributes.find(({ kind, choices }) => kind === 'choice' && choices.length === 0)
  if (empty) throw new Problem('invalid-input', { fields: { attributes: `${empty.name} needs words to choose from` } })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'requirement-attributes-defined',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { project, attributes: [...attributes] },
    })
  })
}

/**
 * Joins a requirement to another of its project. Throws `invalid-input` by field: one that is not there, itself, a refinement
 * that would go round in a circle; `conflict` where it is so already.
 */
export function relateRequirement(ctx: ServiceContext, who: Who, key: string, input: { name: string; to: string; words: string }): void {
  requireRow(ctx, key)
  const project = projectOfRequirement(ctx, key)
  const { name, to, words } = input
  requireInProject(ctx, { project, key: to, field: 'to' })
  if (to === key) throw new Problem('invalid-input', { fields: { to: 'That is this requirement itself' } })
  const stands = sql(ctx.db, LIST_RELATION_OF_REQUIREMENT).all<{ name: string; key: string; isOut: number }>({ key })
  if (stands.some((one) => one.isOut === 1 && one.name === name && one.key === to))
    throw new Problem('conflict', { detail: `${key} ${name} ${to} already.` })
  const above = sql(ctx.db, LIST_RELATED_UPWARDS).all<{ key: string }>({ from: to, name })
  if (above.some((one) => one.key === key))
    throw new Problem('invalid-input', { fields: { to: `${to} ${name} ${key}, directly or by others: it would go round in a circle` } })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'requirements-related',
      actor: who.actor,
      subjects: [`requirement:${key}`, `requirement:${to}`],
      body: { project, relationId: ctx.newId(), name, from: key, to, words },
    })
  })
}

/** Takes a relation of a requirement back. Throws `not-found`. */
export function unrelateRequirement(ctx: ServiceContext, who: Who, key: string, relationId: string): void {
  const project = projectOfRequirement(ctx, key)
  const row = sql(ctx.db, GET_RELATION).get<{ name: string; from: string; to: string }>({ project, relationId })
  if (!row || (row.from !== key && row.to !== key)) throw new Problem('not-found', { detail: 'This relation is not there any more.' })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'requirements-unrelated',
      actor: who.actor,
      subjects: [`requirement:${row.from}`, `requirement:${row.to}`],
      body: { project, relationId, ...row },
    })
  })
}

/** Keeps a picture for texts. Throws `invalid-input` for what is no picture. */
export function addPicture(
  ctx: ServiceContext,
  who: Who,
  project: string,
  input: { path: string; body: Buffer },
): { path: string; mediaType: string; atMs: number } {
  const path = requirePath(input.path)
  const mediaType = mediaTypeOfPicture(path, input.body)
  if (mediaType === null) throw new Problem('invalid-input', { fields: { path: 'It is no picture: PNG, JPEG, GIF, WebP or SVG are' } })
  const atMs = ctx.nowMs()
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'requirement-picture-kept',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { project, path, mediaType, content: input.body.toString('base64') },
    })
  })
  return { path, mediaType, atMs }
}

/** A picture by its path. Throws `not-found`. */
export function readPicture(ctx: ServiceContext, project: string, path: string): { mediaType: string; content: Buffer } {
  const row = sql(ctx.db, GET_PICTURE).get<{ media_type: string; content: Buffer }>({ project, path })
  if (!row) throw new Problem('not-found', { detail: `There is no picture ${path}.` })
  return { mediaType: row.media_type, content: row.content }
}
