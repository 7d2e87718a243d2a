import { parentPort, workerData } from 'node:worker_threads'
import { makeOwnScrub, type ScrubRuleRow } from './own-scrub.js'
import { openReadOnly, openVolumeDb } from '#platform/db/open'
import type { IntakeData, IntakeInput, IntakeMethods, IntakeOutput } from './intake.protocol.js'
import { prune, Sweep } from './prune.js'
import { makePseudonyms } from './pseudonyms.js'
import { serveCalls } from '#platform/threads/serve-calls'
import { VolumeWriter } from './volume-writer.js'
import { ReleaseCode } from '#subjects/git/index'
import { OtlpFormatError, type OtlpRecord, readOtlp } from '#subjects/telemetry/index'

/** Requests that arrive while one transaction is written are committed together in the next (group commit). */
const { volumePath, dbPath, mirrorsDir, keepPerMinute, personKey } = workerData as IntakeData
const db = openVolumeDb(volumePath)
const main = openReadOnly(dbPath)
const rules = main.prepare<[], ScrubRuleRow>('SELECT kind, pattern, name FROM scrub_rule ORDER BY rule_id')
const ownerOf = main.prepare<{ service: string }, { project: string }>('SELECT project FROM service WHERE name = @service')
const FOREIGN = 'this token does not send for every service.name in the request'
const writer = new VolumeWriter(db, {
  code: new ReleaseCode({ volume: db, main, mirrorsDir }),
  keepPerMinute,
  pseudonymOf: makePseudonyms(personKey),
  readOwnScrub: () => makeOwnScrub(rules.all()),
})
const sweep = new Sweep(db, writer)
let waiting: { records: OtlpRecord[]; receivedAtMs: number; resolve: (output: IntakeOutput) => void; reject: (error: unknown) => void }[] =
  []
let isScheduled = false
let forgetUpTo = 0
const forget = db.prepare('DELETE FROM group_change WHERE cursor <= ?')

serveCalls(
  {
    take: ({ signal, encoding, body, receivedAtMs, project = null, services = [] }: IntakeInput): Promise<IntakeOutput> | IntakeOutput => {
      let records: OtlpRecord[]
      try {
        records = readOtlp(signal, encoding, body)
      } catch (error) {
        if (error instanceof OtlpFormatError) return { kind: 'malformed', why: error.message }
        throw error
      }
      const allowed = records.filter(({ resource }) => maySendFor(String(resource['service.name'] ?? ''), { project, services }))
      const foreign = records.length - allowed.length
      if (allowed.length === 0 && foreign > 0) return { kind: 'stored', stored: 0, refused: foreign, why: FOREIGN }
      return new Promise((resolve, reject) => {
        const told = (output: IntakeOutput) =>
          resolve(foreign === 0 || output.kind !== 'stored' ? output : { ...output, refused: output.refused + foreign, why: FOREIGN })
        waiting.push({ records: allowed, receivedAtMs, resolve: told, reject })
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
    mergeGroups: ({ from, into }: IntakeMethods['mergeGroups']['input']) => changed(() => writer.groups.merge(from, into)),
    unmergeGroup: ({ from }: IntakeMethods['unmergeGroup']['input']) => changed(() => writer.groups.unmerge(from)),
    moveLine: (input: IntakeMethods['moveLine']['input']) => changed(() => writer.groups.moveLine(input)),
    refind: (input: IntakeMethods['refind']['input']) => changed(() => writer.groups.refind(input)),
    forgetCode: () => writer.forgetCode(),
    keepMaps: (input: IntakeMethods['keepMaps']['input']): IntakeMethods['keepMaps']['output'] => {
      try {
        return { merged: changed(() => writer.keepMaps(input)) }
      } catch (error) {
        // What the library says of a text that it cannot read; anything of the database's is a fault of ours.
        if (error instanceof Error && !('code' in error)) return { why: error.message.slice(0, 200) }
        throw error
      }
    },
    prune: (input: IntakeMethods['prune']['input']) => db.transaction(() => prune(db, input)).immediate(),
    sweep: () => db.transaction(() => sweep.step()).immediate(),
  },
  () => {
    db.close()
    main.close()
  },
)

/**
 * Whether a token may send for a service: one that it names, or any of its project. What no project has claimed yet may come from anywhere:
 * that is how a new program is found.
 */
function maySendFor(service: string, { project, services }: { project: string | null; services: readonly string[] }): boolean {
  if (services.length > 0 && !services.includes(service)) return false
  if (project === null) return true
  const owner = ownerOf.get({ service })
  return owner === undefined || owner.project === project
}

/** A change of groups, in a transaction of its own; the main thread follows. */
function changed<Value>(act: () => Value): Value {
  try {
    const value = db.transaction(act).immediate()
    writer.forget()
    parentPort?.postMessage({ notice: 'changed' })
    return value
  } catch (error) {
    writer.discard()
    throw error
  }
}

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
    writer.settle()
    for (const [index, { resolve }] of batch.entries())
      resolve({ kind: 'stored', ...(results[index] ?? { stored: 0, refused: 0, why: '' }) })
    parentPort?.postMessage({ notice: 'changed' })
  } catch (error) {
    writer.discard()
    for (const { reject } of batch) reject(error)
  }
}
