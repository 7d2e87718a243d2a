import { Problem } from '@dystracer/core/basics/problem'
import { sql } from '#platform/db/statements'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { DELETE_PRIVATE_NOTE_BY_PERSON_ID_AND_KEY, GET_PRIVATE_NOTE_BY_PERSON_ID_AND_KEY, INSERT_PRIVATE_NOTE } from './notes.queries.js'

/**
 * A person's private note on an item. It stands in a table of secrets, not in the journal: what is nobody else's may be thrown away for
 * good, and no history, export, search or live stream reads
 * that table (docs/decisions/012).
 */
export function readNote(ctx: ServiceContext, who: Who, key: string): { text: string; atMs: number | null } {
  return (
    sql(ctx.db, GET_PRIVATE_NOTE_BY_PERSON_ID_AND_KEY).get<{ text: string; atMs: number }>({
      personId: requirePerson(who),
      key,
    }) ?? { text: '', atMs: null }
  )
}

/** Writes the note; an empty text removes it. */
export function writeNote(ctx: ServiceContext, who: Who, key: string, text: string): void {
  const bind = { personId: requirePerson(who), key }
  if (text.trim() === '') sql(ctx.db, DELETE_PRIVATE_NOTE_BY_PERSON_ID_AND_KEY).run(bind)
  else
    sql(ctx.db, INSERT_PRIVATE_NOTE).run({
      ...bind,
      text,
      atMs: ctx.nowMs(),
    })
}

function requirePerson(who: Who): string {
  if (who.personId === null || who.via !== 'session')
    throw new Problem('sign-in-required', { detail: 'A note belongs to a person. Sign in.' })
  return who.personId
}
