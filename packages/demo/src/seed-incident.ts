import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '@dystracer/server/platform/context'
import { sql } from '@dystracer/server/platform/db/statements'
import { changeIncident, endIncident, noteIncident, openIncident, tieItem } from '@dystracer/server/subjects/incidents/incidents.commands'

const PROJECT = 'EMB'
const SERVICE = 'kiln-controller'
const MINUTE_MS = 60_000
const CAUSE = [
  'The panel read a probe that had answered with nothing and stopped drawing; the firing went on, but nobody at the studio could see it.',
  '',
  'The limiter works by itself (SAF-2), so no kiln was in danger. The screen came back when the controller was started again.',
].join('\n')

/** An evening on which studios could not see their firings, and how it ended: around a fault that the kilns really sent. */
export function layDownIncident(
  ctx: ServiceContext,
  memberOf: (personId: string) => Who,
  clock: { at(atMs: number, act: () => void): void },
): void {
  const [rafe, noor, ines] = ['rafe', 'noor', 'ines'].map(memberOf) as [Who, Who, Who]
  const fault = sql(
    ctx.db,
    `SELECT number, first_seen_at_ms AS atMs FROM fault WHERE service = @service AND type = 'TypeError'
      ORDER BY first_seen_at_ms DESC LIMIT 1 OFFSET 1`,
  ).get<{ number: number; atMs: number }>({ service: SERVICE })
  if (!fault) return
  const item = sql(ctx.db, 'SELECT key FROM item WHERE fault = @fault ORDER BY number LIMIT 1').get<{ key: string }>({
    fault: `F-${fault.number}`,
  })
  const startedAtMs = fault.atMs + 4 * MINUTE_MS
  let number = 0
  const of = () => ({ project: PROJECT, number })
  clock.at(startedAtMs + 5 * MINUTE_MS, () => {
    number = openIncident(ctx, noor, PROJECT, {
      title: 'Studios cannot see the temperature of a firing',
      severity: 2,
      service: SERVICE,
      environment: 'production',
      startedAtMs,
      leadId: 'rafe',
      cause: '',
    })
    noteIncident(ctx, noor, of(), { text: 'Two studios call: the panel shows dashes, the kiln goes on heating.' })
  })
  clock.at(startedAtMs + 18 * MINUTE_MS, () =>
    noteIncident(ctx, rafe, of(), { text: 'The limiter of both kilns was looked at by hand: it works. Nobody has to stop a firing.' }),
  )
  clock.at(startedAtMs + 41 * MINUTE_MS, () =>
    noteIncident(ctx, rafe, of(), { text: 'The controller is started again at both studios; the panel draws.' }),
  )
  clock.at(startedAtMs + 50 * MINUTE_MS, () => {
    endIncident(ctx, rafe, of(), startedAtMs + 46 * MINUTE_MS)
    if (item) tieItem(ctx, rafe, of(), item.key, 'cause')
  })
  clock.at(startedAtMs + 700 * MINUTE_MS, () => changeIncident(ctx, ines, PROJECT, number, { cause: CAUSE }))
}
