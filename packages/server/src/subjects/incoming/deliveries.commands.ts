import { setImmediate } from 'node:timers/promises'
import { readHookMessage } from '@dystracer/core/incoming/hook-reading'
import type { Delivery, EventAnswer } from '@dystracer/core/incoming/wire'
import { Problem } from '@dystracer/core/basics/problem'
import { STRANGER, type Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { toProblem } from '#platform/http/problem-middleware'
import type { RepositorySync } from '#subjects/sync/index'
import { DELETE_OLD_DELIVERIES, GET_DELIVERY, INSERT_DELIVERY, LIST_DELIVERY } from './deliveries.queries.js'
import { receiveCdEvent, type Received } from './events.commands.js'
import { type Hook, hookOf, hookOfSender, senderOf } from './hooks.js'
import { COUNT_UNPLACED, DELETE_OLD_UNPLACED, DELETE_UNPLACED, INSERT_UNPLACED, LIST_UNPLACED_AFTER } from './unplaced.queries.js'

const KEPT = 50
/** So many events about what is not set up here wait for it; older ones go. */
const UNPLACED_KEPT = 5000
const UNPLACED_PAGE = 200
const DATA_MAX = 200_000
const WHY_MAX = 500

interface Parts {
  sync: RepositorySync
  who: Who | null
  /** Whom the list of deliveries names. */
  sender?: string
}

/** A message as it was sent, and what it is listed as where it does not say that itself. */
interface Sent {
  raw: unknown
  kind?: unknown
}

/**
 * Takes one event and notes what became of it, also where it is refused; throws on as it was refused. What
 * has no place yet is kept; a token of one project is told so as a refusal, in the same words wherever the
 * thing may be.
 */
export async function takeDelivery(ctx: ServiceContext, parts: Parts, raw: unknown): Promise<EventAnswer> {
  const { who, sender = who?.actor ?? 'signed' } = parts
  const received = await takeNoted(ctx, { ...parts, sender }, raw)
  if (received.outcome === 'kept for later') {
    const project = who?.limits?.project ?? null
    keepUnplaced(ctx, { sender, project }, raw)
    if (project !== null)
      throw new Problem('not-allowed', {
        detail: `This token is for project ${project}, which has no ${received.thing}. The event is kept, and taken once it has.`,
      })
  }
  return { id: idOf(raw), outcome: received.outcome, why: received.why }
}

/** Takes the events of one request: one alone answers as it was refused; of several each has its own answer, and the others go on. */
export async function takeDeliveries(ctx: ServiceContext, parts: Parts, events: readonly unknown[]): Promise<EventAnswer[]> {
  if (events.length === 1) return [await takeDelivery(ctx, parts, events[0])]
  const answers: EventAnswer[] = []
  for (const event of events) {
    try {
      answers.push(await takeDelivery(ctx, parts, event))
    } catch (error) {
      const problem = toProblem(error)
      // What the sender is to send again as a whole is no matter of one event.
      if (problem.status >= 500 || problem.code === 'too-many-requests') throw error
      answers.push({ id: idOf(event), outcome: 'refused', why: problem.message })
    }
  }
  return answers
}

/** Takes an event and notes it as it was sent, which for a hook is another shape. */
async function takeNoted(ctx: ServiceContext, parts: Parts & { sender: string }, raw: unknown, sent: Sent = { raw }): Promise<Received> {
  const noted = { sender: parts.sender, ...sent }
  try {
    const received: Received = await receiveCdEvent(ctx, parts, raw)
    noteDelivery(ctx, { ...noted, ...received })
    return received
  } catch (error) {
    // On a full disk not even the note can be written: the refusal itself is what counts.
    const problem = toProblem(error)
    if (problem.code !== 'disk-full') noteDelivery(ctx, { ...noted, outcome: 'refused', why: problem.message })
    throw error
  }
}

/**
 * Takes a message of a hook, in whatever shape: the first of its readings that is about it says what it tells, and what that is about
 * belongs to the hook's project. What no reading is about, or what lacks something, is kept, so that a reading can be made and tried on it.
 */
export async function takeHookMessage(
  ctx: ServiceContext,
  { sync }: Pick<Parts, 'sync'>,
  hook: Hook,
  sent: { id: string; message: unknown },
): Promise<EventAnswer> {
  const { hookId, project, readings } = hook
  const sender = senderOf(hookId)
  const { id, message } = sent
  const read = readHookMessage(message, readings, { source: sender, id, atMs: ctx.nowMs() })
  if (read.kind !== 'event') {
    const why =
      read.kind === 'none'
        ? 'No reading of this hook is about it yet.'
        : `By the reading “${read.reading}” it tells a ${read.tells}, and lacks ${read.lacks.join(', ')}.`
    noteDelivery(ctx, { sender, raw: message, kind: read.kind === 'none' ? undefined : read.tells, outcome: 'kept for later', why })
    return { id, outcome: 'kept for later', why }
  }
  const who: Who = { ...STRANGER, actor: sender, limits: { project, services: [], origins: [] } }
  const received = await takeNoted(ctx, { sync, who, sender }, read.event, { raw: message, kind: read.tells })
  if (received.outcome === 'kept for later') keepUnplaced(ctx, { sender, project }, read.event)
  return { id, outcome: received.outcome, why: received.why }
}

function idOf(raw: unknown): string | null {
  const id = (raw as { context?: { id?: unknown } } | null)?.context?.id
  return typeof id === 'string' ? id.slice(0, 200) : null
}

function noteDelivery(
  ctx: ServiceContext,
  {
    sender,
    raw,
    kind = (raw as { context?: { type?: unknown } } | null)?.context?.type,
    outcome,
    why,
  }: Sent & { sender: string; outcome: Delivery['outcome']; why: string | null },
): void {
  const data = JSON.stringify(raw ?? null)
  sql(ctx.db, INSERT_DELIVERY).run({
    nowMs: ctx.nowMs(),
    sender,
    kind: typeof kind === 'string' ? kind.slice(0, 200) : 'of no known kind',
    // A longer one is listed, and cannot be taken again.
    data: data.length > DATA_MAX ? 'null' : data,
    outcome,
    why: why?.slice(0, WHY_MAX) ?? null,
  })
  sql(ctx.db, DELETE_OLD_DELIVERIES).run({ sender, kept: KEPT })
}

function keepUnplaced(ctx: ServiceContext, { sender, project }: { sender: string; project: string | null }, raw: unknown): void {
  const data = JSON.stringify(raw ?? null)
  if (data.length > DATA_MAX) return
  sql(ctx.db, INSERT_UNPLACED).run({ nowMs: ctx.nowMs(), sender, project, data })
  sql(ctx.db, DELETE_OLD_UNPLACED).run({ kept: UNPLACED_KEPT })
}

/**
 * Takes again what was kept for later: what it is about may be set up now. What still has no place stays; what is taken, or refused now,
 * goes from there and is listed among the deliveries. To be called when a repository, a service or an environment was added.
 */
export async function placeKept(ctx: ServiceContext, sync: RepositorySync): Promise<void> {
  for (let after = 0; ; ) {
    const rows = sql(ctx.db, LIST_UNPLACED_AFTER).all<{ unplaced_id: number; sender: string; project: string | null; data: string }>({
      after,
      limit: UNPLACED_PAGE,
    })
    for (const row of rows) {
      after = row.unplaced_id
      const who =
        row.project === null ? null : { ...STRANGER, actor: row.sender, limits: { project: row.project, services: [], origins: [] } }
      const raw: unknown = JSON.parse(row.data)
      const isSettled = await receiveCdEvent(ctx, { sync, who }, raw).then(
        (received) => {
          if (received.outcome !== 'kept for later') noteDelivery(ctx, { sender: row.sender, raw, ...received })
          return received.outcome !== 'kept for later'
        },
        (error: unknown) => {
          const problem = toProblem(error)
          if (problem.status >= 500) throw error
          noteDelivery(ctx, { sender: row.sender, raw, outcome: 'refused', why: problem.message })
          return true
        },
      )
      if (isSettled) sql(ctx.db, DELETE_UNPLACED).run({ unplacedId: row.unplaced_id })
      await setImmediate()
    }
    if (rows.length < UNPLACED_PAGE) return
  }
}

/** Places what was kept whenever something is set up that it may have waited for. Gives its own stopper. */
export function startPlacing(ctx: ServiceContext, sync: RepositorySync): () => void {
  const awaited = new Set(['repository-added', 'service-added', 'service-changed', 'environment-added'])
  let isUnderWay = false
  let isWanted = false
  const place = async (): Promise<void> => {
    do {
      isWanted = false
      await placeKept(ctx, sync)
    } while (isWanted)
  }
  return ctx.journal.onCommit((entries) => {
    if (!entries.some(({ kind }) => awaited.has(kind)) || countUnplaced(ctx) === 0) return
    isWanted = true
    if (isUnderWay) return
    isUnderWay = true
    ctx.background.add(
      place().finally(() => {
        isUnderWay = false
      }),
      'placing events that waited',
    )
  })
}

/** How many events wait for what they are about to be set up. */
export function countUnplaced(ctx: Pick<ServiceContext, 'db'>): number {
  return sql(ctx.db, COUNT_UNPLACED).get<{ count: number }>({})?.count ?? 0
}

/** The newest events that came in, newest first, and how many wait. */
export function listDeliveries(ctx: ServiceContext): { rows: Delivery[]; waiting: number } {
  return { rows: sql(ctx.db, LIST_DELIVERY).all<Delivery>({ limit: KEPT }), waiting: countUnplaced(ctx) }
}

/** Takes an event again as it came, for when what it needed is there now. Throws `not-found`, and what it is refused for. */
export async function replayDelivery(
  ctx: ServiceContext,
  parts: { sync: RepositorySync; sender: string },
  deliveryId: string,
): Promise<void> {
  const row = sql(ctx.db, GET_DELIVERY).get<{ data: string; sender: string }>({ deliveryId: Number(deliveryId) || 0 })
  if (!row || row.data === 'null') throw new Problem('not-found', { detail: 'This event is not kept any more; have it sent again.' })
  const message: unknown = JSON.parse(row.data)
  const hookId = hookOfSender(row.sender)
  if (hookId === null) await takeNoted(ctx, { ...parts, who: null }, message)
  else await takeHookMessage(ctx, parts, hookOf(ctx.db, hookId), { id: `again-${deliveryId}`, message })
}
