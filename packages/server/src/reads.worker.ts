import { join } from 'node:path'
import pino from 'pino'
import { v7 as uuidv7 } from 'uuid'
import type { Problem } from '@dystracer/core/basics/problem'
import { makeSlots, type ServiceContext } from '#platform/context'
import { openReadOnly } from '#platform/db/open'
import { Api } from '#platform/http/api'
import { toProblem } from '#platform/http/problem-middleware'
import type { ReadsData, ReadsMethods, RefusedThere } from '#platform/http/readers'
import { Jobs } from '#platform/jobs/jobs'
import { Journal } from '#platform/journal/journal'
import { dataOfWorker, serveCalls } from '#platform/threads/serve-calls'
import { Threads } from '#platform/threads/threads'
import { RepositorySync } from '#subjects/sync/repository-sync'
import { appliers } from './appliers.js'
import { addRoutes } from './routes.js'

/** A thread of the reader's would be one that nobody stops. */
class NoThreads extends Threads {
  override open(): never {
    throw new Error('what is read beside the main thread asks no other')
  }
}

const { config } = dataOfWorker<ReadsData>()
const db = openReadOnly(join(config.dataDir, 'dystracer.db'))
const volume = openReadOnly(join(config.dataDir, 'occurrences.db'))
const log = pino({ level: config.logLevel }, pino.destination(2))
let nowMs = Date.now()
const ctx: ServiceContext = {
  config,
  log,
  nowMs: () => nowMs,
  newId: uuidv7,
  db,
  volume,
  journal: new Journal({ db, nowMs: () => nowMs, appliers }),
  jobs: new Jobs(log),
  threads: new NoThreads(),
  use: makeSlots(() => ctx, []),
  background: { add: () => {} },
}
const api = new Api(ctx, ({ params }) => ({ ...params }))
// It is never started, and nothing that reads asks it.
addRoutes(api, { sync: new RepositorySync(ctx) })

function refused({ code, message, fields, facts }: Problem): RefusedThere {
  return { code, detail: message, fields, facts }
}

serveCalls(
  {
    warm: () => undefined,
    read: async ({ id, who, params, query, nowMs: askedAtMs }: ReadsMethods['read']['input']): Promise<ReadsMethods['read']['output']> => {
      const startedMs = performance.now()
      nowMs = askedAtMs
      const took = () => ({ tookMs: performance.now() - startedMs })
      try {
        return { text: JSON.stringify(await api.answerLong(id, { who, params, query })), ...took() }
      } catch (error) {
        const problem = toProblem(error)
        if (problem.code === 'internal') throw error
        return { problem: refused(problem), ...took() }
      }
    },
  },
  () => {
    db.close()
    volume.close()
  },
)
