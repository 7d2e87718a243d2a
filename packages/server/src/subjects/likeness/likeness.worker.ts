import { workerData } from 'node:worker_threads'
import { LikenessIndex } from '@dystracer/core/likeness/likeness-index'
import { findRequirements, makeRequirementIndex, NEIGHBOURS } from '@dystracer/core/likeness/requirement-index'
import { RequirementKinship } from '@dystracer/core/likeness/requirement-kinship'
import { readWordVectors } from './word-vectors.js'
import { openReadOnly } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import type { LikenessMethods } from './likeness.protocol.js'
import { serveCalls } from '#platform/threads/serve-calls'

interface Row {
  key: string
  title: string
  description: string
  project: string
  component: string | null
}
const COLUMNS = 'key, title, substr(description, 1, 4000) AS description, project, component'
const db = openReadOnly((workerData as { dbPath: string }).dbPath)
let index: LikenessIndex | null = null

/** Built once from all items, kept up to date by `refresh`. */
function ready(): LikenessIndex {
  if (index) return index
  index = new LikenessIndex({ vectors: readWordVectors() })
  for (const row of sql(db, `SELECT ${COLUMNS} FROM item WHERE is_archived = 0 ORDER BY key`).iterate<Row>({})) add(index, row)
  return index
}

function add(into: LikenessIndex, row: Row): void {
  into.add({ id: row.key, title: row.title, text: row.description, scope: row.project, component: row.component })
}

function isOfProject(requirement: string, project: string): boolean {
  const prefix = requirement.slice(0, requirement.lastIndexOf('-'))
  return sql(db, 'SELECT 1 FROM key_prefix WHERE prefix = @prefix AND project = @project').get({ prefix, project }) !== undefined
}

/** Which items concern the same requirements: gathered bit by bit while nobody asks, begun anew when requirements change. */
let kinship: RequirementKinship | null = null
/** So many items are gathered at once; questions are answered in between. */
const GATHERED_AT_ONCE = 20

function gatherKin(): void {
  const gathered = new RequirementKinship(requirementIndex())
  kinship = gathered
  // Read in pieces as well: the texts of all items at once are more than memory should hold.
  const gather = (after: string) => {
    if (kinship !== gathered) return
    const rows = sql(
      db,
      `SELECT ${COLUMNS} FROM item WHERE is_archived = 0 AND key > @after ORDER BY key LIMIT ${GATHERED_AT_ONCE}`,
    ).all<Row>({
      after,
    })
    for (const row of rows) gathered.add({ id: row.key, title: row.title, text: row.description })
    const last = rows.at(-1)
    if (last) setImmediate(gather, last.key)
  }
  gather('')
}

let requirements: LikenessIndex | null = null

/** The requirements as an index of their own, by the same code as `eval requirements`; read anew when one was written. */
function requirementIndex(): LikenessIndex {
  if (requirements) return requirements
  requirements = makeRequirementIndex(
    sql(db, 'SELECT key AS id, title, text FROM requirement WHERE is_heading = 0 AND retired_at_ms IS NULL ORDER BY key').all<{
      id: string
      title: string
      text: string
    }>({}),
    readWordVectors(),
  )
  return requirements
}

serveCalls(
  {
    requirementsChanged: () => {
      requirements = null
      kinship = null
    },
    findRequirements: ({ report, limit }: LikenessMethods['findRequirements']['input']) => {
      const neighbours = ready()
        .find(report, { limit: NEIGHBOURS })
        .flatMap(({ id, score }) => {
          const row = sql(db, `SELECT ${COLUMNS} FROM item WHERE key = @key`).get<Row>({ key: id })
          return row ? [{ title: row.title, text: row.description, likeness: score }] : []
        })
      return findRequirements(requirementIndex(), { title: report.title, text: report.text, neighbours }, limit)
    },
    refresh: ({ keys }: LikenessMethods['refresh']['input']) => {
      if (!index) return
      for (const key of keys) {
        const row = sql(db, `SELECT ${COLUMNS} FROM item WHERE key = @key AND is_archived = 0`).get<Row>({ key })
        if (row) {
          add(index, row)
          kinship?.add({ id: key, title: row.title, text: row.description })
        } else {
          index.remove(key)
          kinship?.remove(key)
        }
      }
    },
    find: ({ text, limit }: LikenessMethods['find']['input']) => {
      if (kinship === null) gatherKin()
      const hits = ready().find(text, { limit, kin: kinship?.kinOf(text) ?? new Map() })
      // A requirement of another project speaks for nearness, and is not named: the asker may not read that project.
      return hits.map((hit) => ({
        ...hit,
        requirement: hit.requirement && isOfProject(hit.requirement, text.scope) ? hit.requirement : null,
      }))
    },
  },
  () => db.close(),
)
// Ready before somebody asks, without holding up the start.
setTimeout(() => {
  ready()
  gatherKin()
}, 300)
