import { requireRow } from './requirements.views.js'
import { Problem } from '@dystracer/core/basics/problem'
import type { BeginRequirement } from '@dystracer/core/requirements/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { RESERVED_PREFIX } from '#subjects/people/index'
import {
  GET_KEY_PREFIX_BY_PREFIX,
  GET_LAST_OF_REQUIREMENT,
  GET_REQUIREMENT_BY_KEY,
  LAST_NUMBER_OF_REQUIREMENT_BY_PREFIX,
} from './requirements.queries.js'

/**
 * Begins a requirement in a project and gives its key: the prefix and the next number. A prefix that nobody has yet becomes the project's
 * with its first requirement. Throws `invalid-input` by field: a prefix of items or of
 * another project, a parent that is not there or belongs to another project.
 */
export function beginRequirement(ctx: ServiceContext, who: Who, project: string, input: BeginRequirement): string {
  const { prefix, parent, title, text, isHeading } = input
  const owner = sql(ctx.db, GET_KEY_PREFIX_BY_PREFIX).get<{ kind: string; project: string }>({ prefix })
  if (prefix === RESERVED_PREFIX || (owner && (owner.kind !== 'requirement' || owner.project !== project)))
    throw new Problem('invalid-input', { fields: { prefix: `${prefix} is taken by something else. Choose another one` } })
  if (parent !== null) {
    const above = sql(ctx.db, GET_KEY_PREFIX_BY_PREFIX).get<{ project: string }>({ prefix: parent.slice(0, parent.indexOf('-')) })
    if (above?.project !== project || !sql(ctx.db, GET_REQUIREMENT_BY_KEY).get({ key: parent }))
      throw new Problem('invalid-input', { fields: { parent: `There is no requirement ${parent} in this project` } })
  }
  const number = (sql(ctx.db, LAST_NUMBER_OF_REQUIREMENT_BY_PREFIX).get<{ number: number | null }>({ prefix })?.number ?? 0) + 1
  const position = (sql(ctx.db, GET_LAST_OF_REQUIREMENT).get<{ position: number | null }>({})?.position ?? 0) + 1
  const key = `${prefix}-${number}`
  ctx.journal.write((writer) => {
    if (!owner)
      writer.append({
        kind: 'prefix-taken',
        actor: who.actor,
        subjects: [`project:${project}`],
        body: { project, prefix, kind: 'requirement' },
      })
    writer.append({
      kind: 'requirement-written',
      actor: who.actor,
      subjects: [`requirement:${key}`],
      body: { key, title, text, parent, isHeading, revision: 1, position },
    })
  })
  return key
}

/** Writes a new revision of a requirement; links to older ones become suspect. */
export function writeRequirement(ctx: ServiceContext, who: Who, key: string, input: { title: string; text: string }): void {
  const row = requireRow(ctx, key)
  if (row.title === input.title && row.text === input.text) return
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'requirement-written',
      actor: who.actor,
      subjects: [`requirement:${key}`],
      body: {
        key,
        title: input.title,
        text: input.text,
        parent: row.parent,
        isHeading: row.is_heading === 1,
        revision: row.revision + 1,
        position: row.position,
      },
    })
  })
}
