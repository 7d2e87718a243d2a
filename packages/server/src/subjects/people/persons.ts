import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import { GET_PERSON_BY_ADDRESS, GET_PERSON_BY_PERSON_ID, HAS_PERSON_BY_PERSON_ID } from './accounts.queries.js'

/** Whether there is a person of this id, whatever projects they are in. */
export function isPerson(db: Db, personId: string): boolean {
  return sql(db, HAS_PERSON_BY_PERSON_ID).get({ personId }) !== undefined
}

/** The name of a person by their id, or of an actor `person:ID`; null for a rule, a source, or nobody. */
export function nameOfPerson(db: Db, actor: string): string | null {
  return personOf(db, actor.replace(/^person:/, ''))?.name ?? null
}

/** A person as they call themselves; undefined for an id that nobody has. */
export function personOf(db: Db, personId: string): { name: string; initials: string; email: string; timeZone: string | null } | undefined {
  return sql(db, GET_PERSON_BY_PERSON_ID).get<{ name: string; initials: string; email: string; timeZone: string | null }>({ personId })
}

/** Who has an address, whatever its case; undefined where nobody has. */
export function personByAddress(db: Db, email: string): { personId: string; name: string } | undefined {
  return sql(db, GET_PERSON_BY_ADDRESS).get<{ personId: string; name: string }>({ email })
}

/** Who somebody is in git: a person by name and address, a program by its name and the address of this installation. */
export function identityOf(ctx: Pick<ServiceContext, 'db' | 'config'>, who: Who): { name: string; email: string } {
  const person = who.personId === null ? undefined : personOf(ctx.db, who.personId)
  return person ? { name: person.name, email: person.email } : { name: who.actor.replace(/^\w+:/, ''), email: ctx.config.mailFrom }
}
