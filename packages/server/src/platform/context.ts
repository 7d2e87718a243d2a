import type { Logger } from 'pino'
import type { Config } from '#platform/config/config'
import type { Db } from '#platform/db/open'
import type { Jobs } from '#platform/jobs/jobs'
import type { Journal } from '#platform/journal/journal'
import type { Threads } from '#platform/threads/threads'

/**
 * What services work with; built once in context.ts, any part replaceable in tests. Services read `db` and write through `journal` only.
 */
export interface ServiceContext {
  config: Config
  log: Logger
  nowMs: () => number
  /** An id that nobody has; later ones sort behind earlier ones (UUID version 7, RFC 9562), so that what has one time keeps its order. */
  newId: () => string
  db: Db
  /** Read-only view of the volume database. */
  volume: Db
  journal: Journal
  /** Every round that the server makes by itself. */
  jobs: Jobs
  /** Every worker thread. */
  threads: Threads
  /** What a subject keeps for itself on the context: made on first use, once. */
  use<Value>(slot: Slot<Value>): Value
  /** Work that goes on after the answer; a stop waits for it. */
  background: { add(work: Promise<unknown>, what: string): void }
}

/**
 * A place on the context that belongs to one subject (its worker, its adapter, its state in memory), so that the platform knows none of
 * them. Tests put something else into it.
 */
export interface Slot<Value> {
  readonly name: string
  readonly make: (ctx: ServiceContext) => Value
  /** Whether it holds what was read from the tables: then the past has one of its own for each moment. */
  readonly isOfRows: boolean
}

export function slot<Value>(name: string, make: (ctx: ServiceContext) => Value, { isOfRows = false } = {}): Slot<Value> {
  return { name, make, isOfRows }
}

/** Something that stands in for what a slot would make. */
export interface Replacement {
  slot: Slot<unknown>
  value: unknown
}

export function replaced<Value>(place: Slot<Value>, value: Value): Replacement {
  return { slot: place as Slot<unknown>, value }
}

/** The values of slots, each made when it is asked for the first time. */
export function makeSlots(ctx: () => ServiceContext, replacements: readonly Replacement[]): ServiceContext['use'] {
  const values = new Map<Slot<unknown>, unknown>(replacements.map((entry) => [entry.slot, entry.value]))
  return <Value>(place: Slot<Value>): Value => {
    const key = place as Slot<unknown>
    if (!values.has(key)) values.set(key, place.make(ctx()))
    return values.get(key) as Value
  }
}
