import { parentPort, workerData } from 'node:worker_threads'
import { OtlpFormatError, readOtlp, type OtlpRecord } from '../adapters/otlp/read-otlp.js'
import { openVolumeDb } from '../db/open.js'
import type { IntakeInput, IntakeMethods, IntakeOutput } from './intake.protocol.js'
import { serveCalls } from './rpc.js'
import { VolumeWriter } from './volume-writer.js'

/** Requests that arrive while one transaction is written are committed together in the next (group commit). */
const db = openVolumeDb((workerData as { volumePath: string }).volumePath)
const writer = new VolumeWriter(db)
let waiting: { records: OtlpRecord[]; receivedAtMs: number; resolve: (output: IntakeOutput) => void; reject: (error: unknown) => void }[] = []
let isScheduled = false
let forgetUpTo = 0
const forget = db.prepare('DELETE FROM group_change WHERE cursor <= ?')

serveCalls(
  {
    take: ({ signal, encoding, body, receivedAtMs }: IntakeInput): Promise<IntakeOutput> | IntakeOutput => {
      let records: OtlpRecord[]
      try {
        records = readOtlp(signal, encoding, body)
      } catch (error) {
        if (error instanceof OtlpFormatError) return { kind: 'malformed', why: error.message }
        throw error
      }
      return new Promise((resolve, reject) => {
        waiting.push({ records, receivedAtMs, resolve, reject })
        if (!isScheduled) {
          isScheduled = true
          setImmediate(commitWaiting)
        }
      })
    },
    forgetChanges: ({ upToCursor }: IntakeMethods['forgetChanges']['input']) => {
      // Goes along with the next batch: a transaction of its own would cost a sync to disk.
      forgetUpTo = upToCursor
    },
  },
  () => db.close(),
)

function commitWaiting(): void {
  isScheduled = false
  const batch = waiting
  waiting = []
  try {
    const results = db
      .transaction(() => {
        const taken = batch.map(({ records, receivedAtMs }) => writer.take(records, receivedAtMs))
        writer.flush()
        if (forgetUpTo > 0) forget.run(forgetUpTo)
        return taken
      })
      .immediate()
    for (const [index, { resolve }] of batch.entries()) resolve({ kind: 'stored', ...(results[index] ?? { stored: 0, refused: 0, why: '' }) })
    parentPort?.postMessage({ notice: 'changed' })
  } catch (error) {
    writer.discard()
    for (const { reject } of batch) reject(error)
  }
}
