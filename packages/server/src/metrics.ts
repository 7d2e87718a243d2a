import { Problem } from '@dystracer/core/basics/problem'
import { mayAnywhere } from '@dystracer/core/people/standing'
import type { Who } from '@dystracer/core/people/who'
import { statSync } from 'node:fs'
import { join } from 'node:path'
import { collectDefaultMetrics, Gauge, Registry } from 'prom-client'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { intakeWorker } from '#subjects/occurrences/index'

/** Counts that are read anew at every look; each is one row by an index, or a table that stays small. */
const COUNTS = {
  dystracer_journal_entries: ['Entries of the journal', 'SELECT coalesce(max(seq), 0) AS n FROM journal'],
  dystracer_items_open: [
    'Items that are open',
    'SELECT count(*) AS n FROM item INDEXED BY item_open WHERE is_open = 1 AND is_archived = 0',
  ],
  dystracer_faults: ['Faults found so far', 'SELECT coalesce(max(number), 0) AS n FROM fault'],
  dystracer_repositories: ['Connected repositories', 'SELECT count(*) AS n FROM repository'],
  dystracer_mail_refused: ['People whose mail is not taken', 'SELECT count(*) AS n FROM mail_refusal'],
} as const

/** What a monitoring program reads at /metrics, in OpenMetrics. */
export function makeMetrics(ctx: ServiceContext): { contentType: string; read(): Promise<string> } {
  const registry = new Registry()
  registry.setContentType(Registry.OPENMETRICS_CONTENT_TYPE as never)
  collectDefaultMetrics({ register: registry, prefix: 'dystracer_' })
  const gauge = (name: string, help: string, collect: (gauge: Gauge) => void, labelNames: string[] = []) =>
    new Gauge({
      name,
      help,
      labelNames,
      registers: [registry],
      collect() {
        collect(this)
      },
    })
  for (const [name, [help, statement]] of Object.entries(COUNTS))
    gauge(name, help, (made) => made.set(sql(ctx.db, statement).get<{ n: number }>({})?.n ?? 0))
  gauge('dystracer_intake_waiting', 'Requests that wait for the intake thread', (made) => made.set(intakeWorker(ctx).underWay))
  gauge(
    'dystracer_thread_restarts',
    'How often each thread was started again',
    (made) => {
      for (const [thread, count] of Object.entries(ctx.threads.restarts())) made.set({ thread }, count)
    },
    ['thread'],
  )
  gauge(
    'dystracer_file_bytes',
    'Sizes of the databases',
    (made) => {
      for (const file of ['dystracer.db', 'occurrences.db'])
        made.set({ file }, statSync(join(ctx.config.dataDir, file), { throwIfNoEntry: false })?.size ?? 0)
    },
    ['file'],
  )
  return { contentType: registry.contentType, read: () => registry.metrics() }
}

/** Figures of an installation are for whoever reads all of it: a token of scope read for all projects, or a lead. Throws otherwise. */
export function requireMetricsReader(who: Who): void {
  if (who.via === 'anonymous')
    throw new Problem('wrong-token', {
      detail: 'Send "Authorization: Bearer TOKEN" with a token of scope read (./dystracer token --name metrics).',
      headers: { 'www-authenticate': 'Bearer' },
    })
  const readsAll = who.via === 'token' ? who.everywhere !== null : mayAnywhere(who, 'setup.change')
  if (!readsAll)
    throw new Problem('not-allowed', { detail: 'Metrics are for a token of scope read that is held to no project, or for a lead.' })
}
