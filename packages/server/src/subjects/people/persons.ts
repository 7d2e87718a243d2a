import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import { GET_NAME_OF_PERSON_BY_PERSON_ID, HAS_PERSON_BY_PERSON_ID } from './accounts.queries.js'

/** Whether there is a person of this id, whatever projects they are in. */
export function isPerson(db: Db, personId: string): boolean {
  return sql(db, HAS_PERSON_BY_PERSON_ID).get({ personId }) !== undefined
}

/** The name of a person by their id, or of an actor `person:ID`; null for a rule, a source, or nobody. */
export function nameOfPerson(db: Db, actor: string): string | null {
  return sql(db, GET_NAME_OF_PERSON_BY_PERSON_ID).get<{ name: string }>({ personId: actor.replace(/^person:/, '') })?.name ?? null
}
