import { join } from 'node:path'
import { mkdtempSync, rmSync } from 'node:fs'
import { TABLE_CLASSES } from '#platform/db/table-classes'
import { openScratchDb, type Db } from '#platform/db/open'
import { project, type AllAppliers } from './journal.js'
import { listEntriesAfter } from './journal.queries.js'

export interface Difference {
  table: string
  onlyHere: number
  onlyRebuilt: number
  example: string
}

/**
 * Rebuilds every projection from the journal in a scratch file inside the data folder and compares it row by row with what is there. An
 * empty list
 * means that tables and journal agree. Cost: one replay of the journal and one pass over each table.
 */
export function verifyProjections({ db, dataDir, appliers }: { db: Db; dataDir: string; appliers: AllAppliers }): Difference[] {
  const scratchDir = mkdtempSync(join(dataDir, 'verify-'))
  const scratch = openScratchDb(join(scratchDir, 'scratch.db'))
  try {
    replay(db, scratch, appliers)
    return TABLE_CLASSES.projection.flatMap((table) => compareTable(db, scratch, table))
  } finally {
    scratch.close()
    rmSync(scratchDir, { recursive: true, force: true })
  }
}

function replay(from: Db, to: Db, appliers: AllAppliers): void {
  let cursor = 0
  for (;;) {
    const entries = listEntriesAfter(from, cursor, 1000)
    if (entries.length === 0) return
    to.transaction(() => {
      for (const entry of entries) project(to, appliers, entry)
    })()
    cursor = entries.at(-1)?.seq ?? cursor
  }
}

function compareTable(here: Db, rebuilt: Db, table: (typeof TABLE_CLASSES.projection)[number]): Difference[] {
  const rows = (db: Db) =>
    new Set(
      db
        .prepare<[], object>(`SELECT * FROM ${table}`)
        .all()
        .map((row) => JSON.stringify(row)),
    )
  const left = rows(here)
  const right = rows(rebuilt)
  const onlyHere = [...left].filter((row) => !right.has(row))
  const onlyRebuilt = [...right].filter((row) => !left.has(row))
  if (onlyHere.length + onlyRebuilt.length === 0) return []
  return [
    { table, onlyHere: onlyHere.length, onlyRebuilt: onlyRebuilt.length, example: (onlyHere[0] ?? onlyRebuilt[0] ?? '').slice(0, 300) },
  ]
}
