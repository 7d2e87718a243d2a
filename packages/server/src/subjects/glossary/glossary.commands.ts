import { Problem } from '@dystracer/core/basics/problem'
import type { GlossaryTerm, SetTerm } from '@dystracer/core/glossary/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { requireProject } from '#subjects/setup/index'
import { GET_TERM, LIST_TERM } from './glossary.queries.js'

interface Row {
  term: string
  meaning: string
  instead: string
}

/** The words of a project, in the order of the alphabet. */
export function listTerms(ctx: ServiceContext, project: string): GlossaryTerm[] {
  return sql(ctx.db, LIST_TERM)
    .all<Row & { by: string; atMs: number }>({ project })
    .map((row) => ({ ...row, instead: JSON.parse(row.instead) as string[] }))
}

/**
 * Says what a word means. Throws `invalid-input` by field for a word that is said instead of itself, and for a new name that another word
 * has; `not-found` for one that is renamed and not there.
 */
export function setTerm(ctx: ServiceContext, who: Who, project: string, input: SetTerm): void {
  requireProject(ctx.db, project)
  const { term, meaning, before } = input
  const isSame = (one: string, other: string) => one.toLowerCase() === other.toLowerCase()
  const instead = input.instead.filter((word, at) => input.instead.findIndex((one) => isSame(one, word)) === at)
  if (instead.some((word) => isSame(word, term)))
    throw new Problem('invalid-input', { fields: { instead: `${term} cannot stand for itself` } })
  const isRenamed = before !== null && !isSame(before, term)
  if (isRenamed) {
    requireTerm(ctx, project, before)
    if (sql(ctx.db, GET_TERM).get({ project, term }))
      throw new Problem('invalid-input', { fields: { term: `The glossary has ${term} already` } })
  }
  const known = sql(ctx.db, GET_TERM).get<Row>({ project, term })
  if (known && known.term === term && known.meaning === meaning && known.instead === JSON.stringify(instead)) return
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'term-set',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { project, term, meaning, instead, before: isRenamed ? before : null },
    })
  })
}

/** Takes a word out. Throws `not-found`. */
export function removeTerm(ctx: ServiceContext, who: Who, project: string, term: string): void {
  const row = requireTerm(ctx, project, term)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'term-removed', actor: who.actor, subjects: [`project:${project}`], body: { project, term: row.term } })
  })
}

function requireTerm(ctx: ServiceContext, project: string, term: string): Row {
  const row = sql(ctx.db, GET_TERM).get<Row>({ project, term })
  if (!row) throw new Problem('not-found', { detail: `The glossary has no word ${term}.` })
  return row
}
