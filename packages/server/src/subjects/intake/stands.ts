import { type FaultStand, NO_STAND } from '@dystracer/core/faults/fault-stand'
import type { FaultActName } from '@dystracer/core/faults/events'
import type { Actor } from '@dystracer/core/contract/events'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { itemsOfFault } from './fault-items.js'
import { GET_FAULT_STAND } from './stands.queries.js'

/** What people, or a rule that silences, decided about a fault. */
export function readStand(ctx: Pick<ServiceContext, 'db'>, number: number): FaultStand {
  const row = sql(ctx.db, GET_FAULT_STAND).get<{ stand: string }>({ number })
  return row ? { ...NO_STAND, ...(JSON.parse(row.stand) as Partial<FaultStand>) } : NO_STAND
}

/** Writes how a fault stands from now on. */
export function writeStand(
  ctx: Pick<ServiceContext, 'db'>,
  writer: JournalWriter,
  number: number,
  { act, actor, atMs, cause, ...to }: Partial<FaultStand> & { act: FaultActName; actor: Actor; atMs?: number; cause?: string },
): void {
  const before = readStand(ctx, number)
  writer.append({
    kind: 'fault-acted',
    actor,
    ...(atMs !== undefined && { atMs }),
    ...(cause !== undefined && { cause }),
    subjects: [`fault:F-${number}`, ...itemsOfFault(ctx, number).map((key) => `item:${key}`)],
    body: { number, before, after: { ...before, ...to }, act },
  })
}
