import type { KeyPrefixes } from '@dystracer/core/text/references'
import { sql } from '#platform/db/statements'
import type { Db } from '#platform/db/open'
import { currentKey } from './visibility.js'
import { HAS_ITEM_BY_KEY, LIST_KEY_PREFIX } from './records.queries.js'

/** The prefixes that make a word a key, of all projects. */
export function keyPrefixes(db: Db): KeyPrefixes {
  const rows = sql(db, LIST_KEY_PREFIX).all<{ prefix: string; kind: 'item' | 'requirement' }>({})
  const of = (kind: string) => new Set(rows.filter((row) => row.kind === kind).map((row) => row.prefix))
  return { items: of('item'), requirements: of('requirement') }
}

/** Those of the keys that name an item there is, by the key that it has now. */
export function knownKeys(db: Db, keys: readonly string[]): string[] {
  return keys.map((key) => currentKey(db, key)).filter((key) => sql(db, HAS_ITEM_BY_KEY).get({ key }))
}
