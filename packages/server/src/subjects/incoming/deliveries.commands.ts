import type { Delivery } from '@dystracer/core/incoming/wire'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { toProblem } from '#platform/http/problem-middleware'
import type { RepositorySync } from '#subjects/sync/index'
import { DELETE_OLD_DELIVERIES, GET_DELIVERY, INSERT_DELIVERY, LIST_DELIVERY } from './deliveries.queries.js'
import { receiveCdEvent } from './events.commands.js'

const KEPT = 50
const DATA_MAX = 200_000
const WHY_MAX = 500

/** Takes one event and notes what became of it, also where it is refused; throws on as it was refused. */
export async function takeDelivery(
  ctx: ServiceContext,
  { sync, who, sender = who?.actor ?? 'signed' }: { sync: RepositorySync; who: Who | null; sender?: string },
  raw: unknown,
): Promise<void> {
  const note = (outcome: Delivery['outcome'], why: string | null) => noteDelivery(ctx, { sender, raw, outcome, why })
  try {
    note(await receiveCdEvent(ctx, { sync, who }, raw), null)
  } catch (error) {
    // On a full disk not even the note can be written: the refusal itself is what counts.
    const problem = toProblem(error)
    if (problem.code !== 'disk-full') note('refused', problem.message)
    throw error
  }
}

function noteDelivery(
  ctx: ServiceContext,
  { sender, raw, outcome, why }: { sender: string; raw: unknown; outcome: Delivery['outcome']; why: string | null },
): void {
  const data = JSON.stringify(raw ?? null)
  const kind = (raw as { context?: { type?: unknown } } | null)?.context?.type
  sql(ctx.db, INSERT_DELIVERY).run({
    nowMs: ctx.nowMs(),
    sender,
    kind: typeof kind === 'string' ? kind.slice(0, 200) : 'of no known kind',
    // A longer one is listed, and cannot be taken again.
    data: data.length > DATA_MAX ? 'null' : data,
    outcome,
    why: why?.slice(0, WHY_MAX) ?? null,
  })
  sql(ctx.db, DELETE_OLD_DELIVERIES).run({ kept: KEPT })
}

/** The newest events that came in, newest first. */
export function listDeliveries(ctx: ServiceContext): Delivery[] {
  return sql(ctx.db, LIST_DELIVERY).all<Delivery>({ limit: KEPT })
}

/** Takes an event again as it came, for when what it needed is there now. Throws `not-found`, and what it is refused for. */
export async function replayDelivery(
  ctx: ServiceContext,
  parts: { sync: RepositorySync; sender: string },
  deliveryId: string,
): Promise<void> {
  const row = sql(ctx.db, GET_DELIVERY).get<{ data: string }>({ deliveryId: Number(deliveryId) || 0 })
  if (!row || row.data === 'null') throw new Problem('not-found', { detail: 'This event is not kept any more; have it sent again.' })
  await takeDelivery(ctx, { ...parts, who: null }, JSON.parse(row.data))
}
