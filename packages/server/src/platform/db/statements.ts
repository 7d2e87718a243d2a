import type { Statement } from 'better-sqlite3'
import type { Db } from './open.js'

const cacheByDb = new WeakMap<Db, Map<string, Statement>>()

/** The text of every statement prepared so far on this connection; the tests explain each one. */
export function preparedTexts(db: Db): string[] {
  return [...(cacheByDb.get(db)?.keys() ?? [])]
}

/**
 * The statement for this SQL on this connection, prepared once. Values are always bound; SQL text comes from constants and the filter's closed catalogue
 * of fragments only.
 */
export function sql<Bind extends object, Row = unknown>(db: Db, text: string): Statement<[Bind], Row> {
  let cache = cacheByDb.get(db)
  if (!cache) {
    cache = new Map()
    cacheByDb.set(db, cache)
  }
  let statement = cache.get(text)
  if (!statement) {
    statement = db.prepare(text)
    cache.set(text, statement)
  }
  return statement as unknown as Statement<[Bind], Row>
}
