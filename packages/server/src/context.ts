import { gitWorker } from '#subjects/git/git.client'
import { intakeWorker } from '#subjects/occurrences/intake.client'
import { likenessWorker } from '#subjects/likeness/likeness.client'
import { v7 as uuidv7 } from 'uuid'
import { chmodSync, existsSync, mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { pino } from 'pino'
import { appliers } from './appliers.js'
import type { Config } from '#platform/config/config'
import { lockFolder } from '#platform/db/lock'
import { openMainDb, openReadOnly, openVolumeDb } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import type { JournalEntry } from '@dystracer/core/contract/events'
import { chainOlder } from '#platform/journal/chain'
import { chainOlderAudit } from '#subjects/audit/index'
import { Journal } from '#platform/journal/journal'
import { findAnew } from '#subjects/faults/source-maps.commands'
import { followFaults } from '#subjects/faults/follow-faults'
import { tellOfMoves } from '#subjects/ladder/item-news'
import { pastsSlot } from '#platform/past/pasts'
import { moveLadders } from '#subjects/ladder/move-ladders'
import { colourNewLabels } from '#subjects/setup/setup.commands'
import { makeSlots, type Replacement, type ServiceContext } from '#platform/context'
import { Jobs } from '#platform/jobs/jobs'
import { Threads } from '#platform/threads/threads'

export interface OwnedContext {
  ctx: ServiceContext
  close(): Promise<void>
}
/** Events after which an item reads differently. */
const TEXT_EVENTS = new Set(['item-logged', 'item-changed', 'item-moved'])
/** Events after which another set of requirements is offered. */
const REQUIREMENT_EVENTS = new Set(['requirement-written', 'requirement-retired', 'requirement-restored'])
/** Whether a release sent errors before its tag was known. */
const HAS_FAILED = `SELECT 1 FROM fault_group g JOIN fault_release r ON r.fingerprint = g.fingerprint
  WHERE g.service = @service AND r.release = @name LIMIT 1`
/** The first change is followed soon; during a burst the journal is written at most four times a second. */
const FOLLOW_DELAY_MS = 40
const FOLLOW_PAUSE_MS = 250

/** Opens a data folder and builds everything that services work with; refuses a folder of the other kind (docs/rules.md#two-folders). */
export function buildContext(
  config: Config,
  { nowMs: clock, replacements = [] }: { nowMs?: () => number; replacements?: readonly Replacement[] } = {},
): OwnedContext {
  // What people wrote, their sessions and tokens are for the owner of the folder alone.
  mkdirSync(config.dataDir, { recursive: true, mode: 0o700 })
  chmodSync(config.dataDir, 0o700)
  refuseOtherKind(config)
  const unlock = lockFolder(config.dataDir)
  const dbPath = join(config.dataDir, 'dystracer.db')
  const db = openMainDb(dbPath)
  chainOlder(db)
  chainOlderAudit(db)
  sql(db, `INSERT OR IGNORE INTO meta (name, value) VALUES ('kind', @kind)`).run({ kind: config.kind })
  const volumePath = join(config.dataDir, 'occurrences.db')
  openVolumeDb(volumePath).close()
  const volume = openReadOnly(volumePath)
  const log = pino(
    { level: config.logLevel, redact: ['req.headers.authorization', 'req.headers.cookie', '*.password', '*.token'] },
    pino.destination(2),
  )
  const nowMs = clock ?? Date.now
  const background = new Set<Promise<unknown>>()
  const ctx: ServiceContext = {
    config,
    log,
    nowMs,
    newId: uuidv7,
    db,
    volume,
    journal: new Journal({ db, nowMs, appliers }),
    jobs: new Jobs(log),
    threads: new Threads(),
    use: makeSlots(() => ctx, replacements),
    background: {
      add: (work, what) => {
        const kept = work.catch((error: unknown) => log.warn({ err: error }, `${what} failed`)).finally(() => background.delete(kept))
        background.add(kept)
      },
    },
  }
  const pasts = ctx.use(pastsSlot)
  if (config.threadsStart === 'with-the-server') for (const open of [gitWorker, intakeWorker, likenessWorker]) open(ctx).start()
  ctx.journal.onCommit((entries) => {
    const keys = entries.flatMap((entry) =>
      TEXT_EVENTS.has(entry.kind) ? entry.subjects.filter((subject) => subject.startsWith('item:')).map((subject) => subject.slice(5)) : [],
    )
    for (const { body } of entries.filter((entry): entry is JournalEntry<'release-found'> => entry.kind === 'release-found'))
      if (sql(volume, HAS_FAILED).get(body)) ctx.background.add(findAnew(ctx, body.service, body.name), 'finding faults anew')
    // A thread that never ran reads everything when it starts.
    const likeness = likenessWorker(ctx)
    if (!likeness.hasStarted) return
    if (entries.some((entry) => REQUIREMENT_EVENTS.has(entry.kind)))
      ctx.background.add(likeness.call('requirementsChanged', {}), 'reading requirements anew')
    if (keys.length > 0) ctx.background.add(likeness.call('refresh', { keys }), 'refreshing look-alikes')
  })
  ctx.journal.deriveBeforeCommit((writer, touched, actor) => {
    colourNewLabels(ctx.db, writer, touched)
    tellOfMoves(ctx, writer, moveLadders(ctx, writer, touched), actor)
  })
  let followTimer: NodeJS.Timeout | undefined
  let lastFollowedAt = Number.NEGATIVE_INFINITY
  intakeWorker(ctx).onNotice = () => {
    followTimer ??= setTimeout(
      () => {
        followTimer = undefined
        followFaults(ctx)
        lastFollowedAt = performance.now()
      },
      Math.max(FOLLOW_DELAY_MS, lastFollowedAt + FOLLOW_PAUSE_MS - performance.now()),
    )
  }
  return {
    ctx,
    close: async () => {
      clearTimeout(followTimer)
      await ctx.jobs.stop()
      await Promise.allSettled([...background])
      await ctx.threads.stop()
      pasts.close()
      volume.close()
      db.close()
      unlock()
    },
  }
}

/** Throws when the data folder holds data of the other kind (docs/rules.md#two-folders); looks without changing anything. */
export function refuseOtherKind(config: Pick<Config, 'dataDir' | 'kind'>): void {
  const path = join(config.dataDir, 'dystracer.db')
  if (!existsSync(path)) return
  const db = openReadOnly(path)
  try {
    if (!sql(db, `SELECT 1 FROM sqlite_master WHERE name = 'meta'`).get({})) return
    const kind = sql(db, `SELECT value FROM meta WHERE name = 'kind'`).get<{ value: string }>({})?.value
    if (kind === undefined || kind === config.kind) return
    throw new Error(
      `the data folder ${config.dataDir} holds ${
        kind === 'demo' ? 'a demo; open it with "./dystracer demo"' : 'real data; open it with "./dystracer start"'
      }`,
    )
  } finally {
    db.close()
  }
}
