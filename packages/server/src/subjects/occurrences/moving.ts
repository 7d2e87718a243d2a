import { MOVE_CLEAR, MOVE_TAKE_ONE, MOVE_TAKE_ALIKE, MOVE_LEFT, MOVE_PEOPLE, MOVE_HIT, MOVE_COUNTERS } from './moving.queries.js'
import type { Db } from '#platform/db/open'

/** Which occurrences of a group move: those of one release with certain traces, or a single one. */
export type Moving = { release: string; digests: readonly string[] } | { occurrenceId: number }

/**
 * Moves occurrences from one group to another that may not be there yet, and what was counted for them. `moved` is false where none fits;
 * nothing of the first group's other counts changes, so
 * what was counted and not kept stays where it was. The caller's transaction makes it one.
 */
export function prepareMove(db: Db) {
  const { clear, takeOne, takeAlike, left, people, hit, counters } = prepareMoveQueries(db)
  return {
    /** Takes the occurrences in hand; how many there are, and whether the group has others. */
    gather: (from: string, which: Moving): { count: number; hasOthers: boolean } => {
      clear.run()
      const { changes } =
        'digests' in which
          ? takeAlike.run({ from, release: which.release, digests: JSON.stringify(which.digests) })
          : takeOne.run({ from, occurrenceId: which.occurrenceId })
      return { count: changes, hasOthers: left.get({ from }) !== undefined }
    },
    /** Moves what was gathered. People are told apart by a digest, as they are counted. */
    go: (from: string, to: string, digestOf: (text: string) => string): void => {
      for (const step of counters) step.run({ from, to })
      for (const { person, firstMinute } of people.all()) hit.run({ to, person: digestOf(String(person)), firstMinute })
      clear.run()
    },
  }
}

/** What moving occurrences writes, by way of a table of the connection that holds those in hand. */
function prepareMoveQueries(db: Db) {
  db.exec(
    'CREATE TEMP TABLE IF NOT EXISTS moving (occurrence_id INTEGER PRIMARY KEY, at_ms INTEGER, release TEXT, environment ' +
      'TEXT, trace_digest TEXT, person TEXT)',
  )
  const clear = db.prepare(MOVE_CLEAR)
  const takeOne = db.prepare(MOVE_TAKE_ONE)
  const takeAlike = db.prepare(MOVE_TAKE_ALIKE)
  const left = db.prepare<{ from: string }, { one: number }>(MOVE_LEFT)
  const people = db.prepare<[], { person: string; firstMinute: number }>(MOVE_PEOPLE)
  const hit = db.prepare(MOVE_HIT)
  const counters = MOVE_COUNTERS.map((step) => db.prepare<{ from: string; to: string }>(step))
  return { clear, takeOne, takeAlike, left, people, hit, counters }
}
