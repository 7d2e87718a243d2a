import type { ChangeStatus } from '@dystracer/core/code/change-status'
import { gateInWords } from '@dystracer/core/reviews/gate-words'
import type { MergeGate } from '@dystracer/core/reviews/gates'
import type { HostStatus } from '@dystracer/core/reviews/wire'
import { STRANGER, type Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { OutsideError } from '#platform/outside-error'
import { codeHostOf, type PullRequestRow, toPullRequest } from '#subjects/code/index'
import { nameOfPerson } from '#subjects/people/index'
import { projectsOfRepository } from '#subjects/records/index'
import { idOf } from './change-facts.js'
import { gatesOf } from './gates.views.js'
import {
  GET_TOLD_STATUS,
  LIST_CONNECTED_REPOSITORIES,
  LIST_PULL_REQUESTS_TO_TELL_OF,
  SET_TOLD_STATUS,
  SET_TROUBLE_OF_TOLD_STATUS,
} from './host-statuses.queries.js'

/** Events of things of no repository after which a gate may read differently, or an item may be shown. */
const CHANGES_GATES = new Set([
  'link-asserted',
  'link-retracted',
  'link-vetoed',
  'links-confirmed',
  'requirement-written',
  'time-booked',
  'time-taken-back',
  'item-changed',
  'change-undone',
])
const ROUND_MS = 1000
const MINUTE_MS = 60_000
/** An adapter that answers so has no place for statuses. */
const UNKNOWN_CALL: ReadonlySet<number | null> = new Set([404, 405, 501])
const SUMMARY_MAX = 140

/**
 * Keeps what code hosts show of their pull requests current: each is told what it still waits for and which
 * items it is for, once when that changes. What was told is compared with what holds now, so nothing is missed
 * while a host or this program was away, and nothing is told twice. A host that fails is asked again a minute later.
 */
export function startTellingHosts(ctx: ServiceContext): void {
  // Nothing was told of what happened while this program was away.
  let areAllDue = true
  const dueAtMs = new Map<string, number>()
  const takesNone = new Set<string>()
  ctx.journal.onCommit((entries) => {
    areAllDue ||= entries.some(({ kind }) => CHANGES_GATES.has(kind))
    for (const subject of entries.flatMap(({ subjects }) => subjects)) {
      const repository = /^(?:repository|pull-request|build):([^/]+)/.exec(subject)?.[1]
      if (repository !== undefined) dueAtMs.set(repository, 0)
    }
  })
  const round = async () => {
    if (areAllDue) for (const { name } of sql(ctx.db, LIST_CONNECTED_REPOSITORIES).all<{ name: string }>({})) dueAtMs.set(name, 0)
    areAllDue = false
    const nowMs = performance.now()
    for (const [repository, atMs] of dueAtMs) {
      if (atMs > nowMs || takesNone.has(repository)) continue
      // What throws, such as a repository that was not fetched yet, is tried again then.
      const againAtMs = nowMs + MINUTE_MS
      dueAtMs.set(repository, againAtMs)
      const { next } = await tellOfRepository(ctx, repository)
      if (next === 'never') takesNone.add(repository)
      // Something that happened meanwhile asks for a look of its own.
      if (next !== 'in a minute' && dueAtMs.get(repository) === againAtMs) dueAtMs.delete(repository)
    }
  }
  ctx.jobs.every({ name: 'telling code hosts of their pull requests', everyMs: ROUND_MS, run: round })
}

/** Tells its host of every pull request that reads differently than it was told; when to look again without being asked to. */
async function tellOfRepository(ctx: ServiceContext, repository: string): Promise<{ next: 'when asked' | 'in a minute' | 'never' }> {
  const host = codeHostOf(ctx, repository)
  if (!host) return { next: 'when asked' }
  let isByTheClock = false
  let trouble: string | null = null
  for (const row of sql(ctx.db, LIST_PULL_REQUESTS_TO_TELL_OF).all<PullRequestRow>({ repository })) {
    const { status, hasHours } = await statusOf(ctx, row)
    isByTheClock ||= hasHours
    const told = JSON.stringify(status)
    const before = sql(ctx.db, GET_TOLD_STATUS).get<{ told: string; trouble: string | null }>(idOf(row))
    if (before?.told === told && before.trouble === null) continue
    try {
      // A host that failed once is not asked for each of the others, too.
      if (trouble === null) await host.showStatus(status)
    } catch (error) {
      if (!(error instanceof OutsideError)) throw error
      if (UNKNOWN_CALL.has(error.status)) return { next: 'never' }
      trouble = error.message
    }
    if (trouble === null) sql(ctx.db, SET_TOLD_STATUS).run({ ...idOf(row), told, atMs: ctx.nowMs() })
    else sql(ctx.db, SET_TROUBLE_OF_TOLD_STATUS).run({ ...idOf(row), trouble, atMs: ctx.nowMs() })
  }
  return { next: isByTheClock || trouble !== null ? 'in a minute' : 'when asked' }
}

async function statusOf(ctx: ServiceContext, row: PullRequestRow): Promise<{ status: ChangeStatus; hasHours: boolean }> {
  const isOpen = row.state === 'open'
  // Gates count what nobody outside may see, and say only how much of it there is.
  const gates = isOpen ? (await gatesOf(ctx, reader('admin', []), row)).gates : []
  const { items } = toPullRequest(ctx, reader(null, projectsOfRepository(ctx.db, row.repository)), row)
  const inWords = (gate: MergeGate) => gateInWords(gate, (personId) => nameOfPerson(ctx.db, personId) ?? personId)
  const missing = gates.filter(({ isMet }) => !isMet)
  const { publicUrl } = ctx.config
  return {
    hasHours: gates.some(({ code }) => code === 'hours'),
    status: {
      ...idOf(row),
      sha: row.head_sha,
      state: isOpen ? (missing.length === 0 ? 'ready' : 'waiting') : 'over',
      summary: cut(
        isOpen ? (missing.length === 0 ? 'Everything holds: it may be merged' : missing.map(inWords).join('. ')) : `It is ${row.state}`,
      ),
      url: `${publicUrl}/code/pull-request~${row.repository},${row.number}`,
      items: items.map((key) => ({ key, url: `${publicUrl}/items/item~${key}` })),
      gates: gates.map((gate) => ({ isMet: gate.isMet, words: inWords(gate) })),
    },
  }
}

function cut(text: string): string {
  return text.length <= SUMMARY_MAX ? text : `${text.slice(0, SUMMARY_MAX - 1)}…`
}

/** Nobody in particular: with a role everywhere, or as a reader of some projects, who is told nothing confidential. */
function reader(everywhere: Who['everywhere'], projects: readonly string[]): Who {
  return { ...STRANGER, roles: Object.fromEntries(projects.map((project) => [project, 'reader'])), everywhere }
}

/** What the host of a pull request was last told; null where it lives here, or its host takes no statuses. */
export function hostStatusOf(ctx: ServiceContext, row: PullRequestRow): HostStatus | null {
  const told = sql(ctx.db, GET_TOLD_STATUS).get<{ told: string; atMs: number; trouble: string | null }>(idOf(row))
  if (told === undefined) return null
  const { summary } = told.told === '' ? { summary: '' } : (JSON.parse(told.told) as ChangeStatus)
  return { summary, atMs: told.atMs, trouble: told.trouble }
}
