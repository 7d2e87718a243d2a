import { copyFileSync, renameSync, rmSync } from 'node:fs'
import Database from 'better-sqlite3'
import { openReadOnly, openScratchDb, type Db } from '#platform/db/open'
import { TABLE_CLASSES } from '#platform/db/table-classes'
import { project, type AllAppliers } from '#platform/journal/journal'
import { listEntriesAfter } from '#platform/journal/journal.queries'
import type { Known, PastMethods } from './past.protocol.js'

const BATCH = 1000
/** Which commits were there is cut off below; the search finds the texts of then. */
const OWN_CACHES: ReadonlySet<string> = new Set(['git_commit', 'item_search_row', 'item_search', 'comment_search_row', 'comment_search'])
/** Of people is shown what is known now: who may look, and how they are called, is no matter of the past. */
const OF_NOW = [
  'person',
  'membership',
  'former_member',
  'person_address',
  'mail_refusal',
  ...TABLE_CLASSES.secret,
  ...TABLE_CLASSES.source.filter((table) => table !== 'journal'),
  // What git holds is the same at any time.
  ...TABLE_CLASSES.cache.filter((table) => !OWN_CACHES.has(table)),
] as const

/**
 * Computes the tables of a moment from the journal: its entries are applied in their order up to the last one that was known then, in a
 * file of its own; where a moment before that is there already, from its file on. Commits come from the git index, as far as they are
 * reachable from the refs of that moment. Cost: one replay of the entries that are missing.
 */
export function buildPast(
  { mainPath, path, known, from }: PastMethods['build']['input'],
  appliers: AllAppliers,
  tell: (progress: string) => void,
): void {
  const unfinished = `${path}.new`
  rmSync(unfinished, { force: true })
  if (from) copyFileSync(from.path, unfinished)
  const main = openReadOnly(mainPath)
  const past = from ? new Database(unfinished) : openScratchDb(unfinished)
  try {
    past.pragma('synchronous = OFF')
    // The file is read by others as it is, and copied: nothing of it may stand in a log beside it.
    past.pragma('journal_mode = DELETE')
    past.pragma('foreign_keys = OFF')
    let cursor = from?.known.seq ?? 0
    let done = from?.known.count ?? 0
    while (cursor < known.seq) {
      const entries = listEntriesAfter(main, cursor, BATCH)
      if (entries.length === 0) break
      // A clock may have been set back: what counts is when an entry was recorded, not its number alone.
      const then = entries.filter((entry) => entry.seq <= known.seq && entry.recordedAtMs <= known.atMs)
      past.transaction(() => {
        for (const entry of then) project(past, appliers, entry)
      })()
      cursor = entries.at(-1)?.seq ?? known.seq
      done += then.length
      tell(String(done))
    }
    past.prepare('ATTACH ? AS now').run(mainPath)
    past.transaction(() => takeCommits(past))()
    hideWhatIsHidden(past)
    past.exec('DETACH now')
  } finally {
    past.close()
    main.close()
  }
  renameSync(unfinished, path)
}

/** The commits behind the refs of the moment. */
function takeCommits(past: Db): void {
  past.exec('DELETE FROM git_commit')
  const repositories = past.prepare<[], { repository: string }>('SELECT DISTINCT repository FROM git_ref WHERE deleted_at_ms IS NULL').all()
  for (const { repository } of repositories) {
    const parents = new Map<string, string>()
    for (const row of past
      .prepare<[string], { sha: string; parents: string }>('SELECT sha, parents FROM now.git_commit WHERE repository = ?')
      .iterate(repository))
      parents.set(row.sha, row.parents)
    const reached = new Set<string>()
    const waiting = past
      .prepare<[string], { sha: string }>('SELECT sha FROM git_ref WHERE repository = ? AND deleted_at_ms IS NULL')
      .all(repository)
      .map(({ sha }) => sha)
    for (let sha = waiting.pop(); sha !== undefined; sha = waiting.pop()) {
      if (reached.has(sha)) continue
      reached.add(sha)
      for (const parent of JSON.parse(parents.get(sha) ?? '[]') as string[]) waiting.push(parent)
    }
    past
      .prepare(
        `INSERT INTO git_commit SELECT * FROM now.git_commit
          WHERE repository = @repository AND sha IN (SELECT value FROM json_each(@shas))`,
      )
      .run({ repository, shas: JSON.stringify([...reached]) })
  }
}

/**
 * What is confidential now was perhaps not so then: it is shown to those alone who may see it now. Whoever owned it then and may not see it
 * any more is taken out. An item that was moved elsewhere since, under another key, may be closed to those who read it where it was: it is
 * treated as confidential there. The database has the present one attached as `now`.
 */
function hideWhatIsHidden(past: Db): void {
  past.exec(
    `UPDATE item SET is_confidential = 1, named_ids = n.named_ids, co_owner_ids = n.co_owner_ids,
        owner_id = CASE WHEN item.owner_id = n.owner_id THEN item.owner_id END
      FROM (SELECT key, named_ids, co_owner_ids, owner_id FROM now.item WHERE is_confidential = 1
        UNION ALL SELECT a.alias, i.named_ids, i.co_owner_ids, i.owner_id FROM now.key_alias a JOIN now.item i ON i.key = a.key) n
      WHERE item.key = n.key`,
  )
}

/** Hides anew what became confidential, or whose readers changed, since the file was made. */
export function hideAnew(path: string, mainPath: string): void {
  const past = new Database(path)
  try {
    past.prepare('ATTACH ? AS now').run(mainPath)
    hideWhatIsHidden(past)
  } finally {
    past.close()
  }
}

/** What the volume database held at a moment, by the times that it keeps: counts of a fault to the day, all else to the minute. */
const VOLUME_THEN = (atMs: number): Record<string, string> => {
  const minute = Math.floor(atMs / 60_000)
  return {
    occurrence: `SELECT * FROM main.occurrence WHERE received_at_ms <= ${atMs}`,
    fault_minute: `SELECT * FROM main.fault_minute WHERE minute <= ${minute}`,
    fault_day: `SELECT * FROM main.fault_day WHERE day <= ${Math.floor(minute / 1440)}`,
    fault_person: `SELECT * FROM main.fault_person WHERE first_minute <= ${minute}`,
    activity_minute: `SELECT * FROM main.activity_minute WHERE minute <= ${minute}`,
    trail_record: `SELECT * FROM main.trail_record WHERE received_at_ms <= ${atMs}`,
    traffic_value: `SELECT * FROM main.traffic_value WHERE hour <= ${Math.floor(minute / 60)}`,
    fault_release: `SELECT fingerprint, release, environment, first_at_ms, min(last_at_ms, ${atMs}) AS last_at_ms, count
      FROM main.fault_release WHERE first_at_ms <= ${atMs}`,
    fault_group: `SELECT g.fingerprint, g.service, g.grouping, g.trace_digest, g.first_at_ms, min(g.last_at_ms, ${atMs}) AS last_at_ms,
        coalesce((SELECT sum(d.count) FROM main.fault_day d WHERE d.fingerprint = g.fingerprint AND d.day <= ${Math.floor(minute / 1440)}),
          g.count) AS count, g.severity_number, g.left_out
      FROM main.fault_group g WHERE g.first_at_ms <= ${atMs}`,
  }
}

/** A connection to the volume database that reads what it held at a moment. */
export function openPastVolume(path: string, atMs: number): Db {
  const db = openReadOnly(path)
  for (const [table, then] of Object.entries(VOLUME_THEN(Math.trunc(atMs)))) db.exec(`CREATE TEMP VIEW ${table} AS ${then}`)
  return db
}

/** A connection on which every statement of ours reads the moment: the journal ends there, and of people is read what is known now. */
export function openPastDb(path: string, mainPath: string, { seq, atMs }: Known): Db {
  const db = openReadOnly(path)
  db.prepare('ATTACH ? AS now').run(mainPath)
  for (const table of OF_NOW) db.exec(`CREATE TEMP VIEW ${table} AS SELECT * FROM now.${table}`)
  db.exec(`CREATE TEMP VIEW journal AS SELECT * FROM now.journal WHERE seq <= ${Math.trunc(seq)} AND recorded_at_ms <= ${Math.trunc(atMs)}`)
  return db
}
