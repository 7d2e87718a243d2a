import { createHash } from 'node:crypto'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import { GET_VALUE_OF_SECRET_BY_NAME, INSERT_SECRET_FOR_REMEMBER_SECRET, UPDATE_SECRET } from './accounts.queries.js'

/** A secret of the installation by its name, made on first use. */
export function rememberSecret(db: Db, name: string, make: () => string): string {
  sql(db, INSERT_SECRET_FOR_REMEMBER_SECRET).run({ name, value: make() })
  return sql(db, GET_VALUE_OF_SECRET_BY_NAME).get<{ value: string }>({ name })?.value ?? ''
}

/** Puts another secret in the place of one; what was made or signed with the old one fails from now on. */
export function replaceSecret(db: Db, name: string, value: string): void {
  sql(db, UPDATE_SECRET).run({ name, value })
}

/** What is stored of a secret that is random and long: enough to know it again, and no help to guess it. */
export function digestOf(secret: string): string {
  return createHash('sha256').update(secret).digest('base64url')
}
