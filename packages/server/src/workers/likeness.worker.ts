import { workerData } from 'node:worker_threads'
import { LikenessIndex } from '@dystracer/core/likeness/likeness-index'
import { readWordVectors } from '../adapters/word-vectors.js'
import { openReadOnly } from '../db/open.js'
import { sql } from '../db/statements.js'
import type { LikenessMethods } from './likeness.protocol.js'
import { serveCalls } from './rpc.js'

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
  for (const row of sql<object, Row>(db, `SELECT ${COLUMNS} FROM item WHERE is_archived = 0 ORDER BY key`).iterate({})) add(index, row)
  return index
}

function add(into: LikenessIndex, row: Row): void {
  into.add({ id: row.key, title: row.title, text: row.description, scope: row.project, component: row.component })
}

serveCalls(
  {
    refresh: ({ keys }: LikenessMethods['refresh']['input']) => {
      if (!index) return
      for (const key of keys) {
        const row = sql<object, Row>(db, `SELECT ${COLUMNS} FROM item WHERE key = @key AND is_archived = 0`).get({ key })
        if (row) add(index, row)
        else index.remove(key)
      }
    },
    find: ({ text, limit }: LikenessMethods['find']['input']) => ready().find(text, { limit }),
  },
  () => db.close(),
)
// Ready before somebody asks, without holding up the start.
setTimeout(ready, 300)
