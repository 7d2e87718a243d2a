import type { Statement } from 'better-sqlite3'
import { LRUCache } from 'lru-cache'
import type { Db } from './open.js'

/** What SQLite takes as a value. */
export type SqlValue = string | number | bigint | null | Uint8Array

type NameLetter =
  | 'a'
  | 'b'
  | 'c'
  | 'd'
  | 'e'
  | 'f'
  | 'g'
  | 'h'
  | 'i'
  | 'j'
  | 'k'
  | 'l'
  | 'm'
  | 'n'
  | 'o'
  | 'p'
  | 'q'
  | 'r'
  | 's'
  | 't'
  | 'u'
  | 'v'
  | 'w'
  | 'x'
  | 'y'
  | 'z'
type NameCharacter = NameLetter | Uppercase<NameLetter> | '0' | '1' | '2' | '3' | '4' | '5' | '6' | '7' | '8' | '9' | '_'
/** The longest name at the beginning of a text. */
type NameAt<Text extends string, Name extends string = ''> = Text extends `${infer Character}${infer Rest}`
  ? Character extends NameCharacter
    ? NameAt<Rest, `${Name}${Character}`>
    : Name
  : Name
/** The names of all binds of an SQL text, as they stand behind an at sign. */
type BindNames<Text extends string> = Text extends `${string}@${infer Rest}` ? NameAt<Rest> | BindNames<Rest> : never
/**
 * What a statement must be given: exactly what its text names, so that a misspelt or forgotten bind does not compile. A text that is put
 * together at run time takes any.
 */
export type BindsOf<Text extends string> = string extends Text ? Record<string, SqlValue> : Record<BindNames<Text>, SqlValue>

/** A statement that knows from its text what it must be given; the caller says what a row looks like. */
export interface TypedStatement<Text extends string> {
  get<Row = unknown>(binds: BindsOf<Text>): Row | undefined
  all<Row = unknown>(binds: BindsOf<Text>): Row[]
  iterate<Row = unknown>(binds: BindsOf<Text>): IterableIterator<Row>
  run(binds: BindsOf<Text>): { changes: number; lastInsertRowid: number | bigint }
}

/**
 * More than the product's own statements are; the texts that filters make have as many shapes as people think of, and the one that was
 * longest not asked makes room.
 */
const STATEMENTS_MAX = 1500
/**
 * What a statement takes lies in SQLite's memory (some 75 KB for a long filter), of which the collector of garbage knows nothing: one that
 * was let go would stay for hours, with ten thousands of others. So each is given something that the collector does know of; after some
 * hundred new statements it looks what can go.
 */
const WEIGHT_BYTES = 64 << 10
interface Held {
  statement: Statement
  weight: ArrayBuffer
}
const cacheByDb = new WeakMap<Db, LRUCache<string, Held>>()

/** The text of every statement prepared so far on this connection; the tests explain each one. */
export function preparedTexts(db: Db): string[] {
  return [...(cacheByDb.get(db)?.keys() ?? [])]
}

/**
 * The statement for this SQL on this connection, prepared once. Values are always bound; SQL text comes from constants and the filter's
 * closed catalogue
 * of fragments only.
 */
export function sql<const Text extends string>(db: Db, text: Text): TypedStatement<Text> {
  let cache = cacheByDb.get(db)
  if (!cache) {
    cache = new LRUCache({ max: STATEMENTS_MAX })
    cacheByDb.set(db, cache)
  }
  let held = cache.get(text)
  if (!held) {
    held = { statement: db.prepare(text), weight: new ArrayBuffer(WEIGHT_BYTES) }
    cache.set(text, held)
  }
  return held.statement as unknown as TypedStatement<Text>
}
