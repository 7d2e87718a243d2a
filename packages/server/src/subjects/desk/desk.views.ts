import { plural } from '@dystracer/core/text/plural'
import { mayIn } from '@dystracer/core/people/standing'
import type { Desk } from '@dystracer/core/desk/wire'
import { missingSteps } from './first-steps.js'
import { sql } from '#platform/db/statements'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { todayOf, viewerOf } from '#subjects/people/index'
import { hiddenRepositories, hiddenServices, type ItemRow, toSummary, VISIBLE_ITEM } from '#subjects/records/index'
import { onDuty } from '#subjects/routing/index'
import { firstWaiting } from '#subjects/triage/index'
import { agreementsWaitingFor } from '#subjects/agreements/index'
import { trainsWaitingFor } from '#subjects/trains/index'
import { countUnexplainedLately } from '#subjects/ties/index'
import {
  GET_AT_MS_OF_LINK_ASSERTION_BY_KEY,
  GET_STARTED_AT_MS_OF_ITEM_BY_KEY,
  GET_WORDS_OF_ITEM_BY_KEY,
  LIST_DEPLOYMENT,
  LIST_ITEM,
  LIST_PROJECT,
  LIST_PULL_REQUEST,
} from './desk.queries.js'

/** So many of the most urgent decisions stand on the desk; Triage has them all. */
const DECISIONS_SHOWN = 5

/** What waits for the asker and why; for a guest, what waits for anybody. */
export function readDesk(ctx: ServiceContext, who: Who): Desk {
  const waiting: Desk['waiting'] = []
  const me = who.personId
  // Somebody's own items by the index of owners; for a guest, anybody's. The texts are a closed set: nothing of a request enters them.
  const mine = me === null ? '1' : 'i.owner_id = @me'
  const bind = { me, nowMs: ctx.nowMs(), today: todayOf(ctx, who), ...viewerOf(who) }
  const items = (where: string, index = ''): ItemRow[] => {
    // First the keys by narrow rows, then the few items: sorting whole items would read every description.
    const keys = sql(
      ctx.db,
      `SELECT i.key FROM item i ${index} WHERE ${where} AND i.is_open = 1 AND i.is_archived = 0 AND ${VISIBLE_ITEM}
        ORDER BY coalesce(i.severity, 9), i.created_at_ms DESC LIMIT 8`,
    )
      .all<{ key: string }>(bind)
      .map((row) => row.key)
    const rows = new Map(
      sql(ctx.db, LIST_ITEM)
        .all<ItemRow>({ keys: JSON.stringify(keys) })
        .map((row) => [row.key, row]),
    )
    return keys.flatMap((key) => rows.get(key) ?? [])
  }
  const add = (why: Desk['waiting'][number]['why'], rows: ItemRow[], detail: (row: ItemRow) => string) => {
    for (const row of rows)
      if (!waiting.some((entry) => entry.ref.id === row.key))
        waiting.push({
          why,
          ref: { kind: 'item', id: row.key },
          title: row.title,
          detail: detail(row),
          atMs: row.updated_at_ms,
          item: toSummary(row),
        })
  }
  if (who.personId !== null)
    add(
      'answer',
      items(`i.asked_until_ms IS NOT NULL AND i.asked_until_ms > @nowMs AND i.reporter_id = @me`),
      (row) => `you are asked: ${askedWords(ctx, row.key)}`,
    )
  add(
    'came-back',
    items(`i.has_come_back = 1 AND (${mine} OR i.owner_id IS NULL)`, 'INDEXED BY item_came_back'),
    () => 'seen again in a release that holds its fix',
  )
  for (const row of sql(ctx.db, LIST_DEPLOYMENT).all<{
    deployment_id: string
    service: string
    release: string
    environment: string
    at_ms: number
  }>({ hidden: hiddenServices(ctx.db, who) })) {
    waiting.push({
      why: 'approve',
      ref: { kind: 'release', id: `${row.service}@${row.release}` },
      title: `${row.service} ${row.release} wants to go to ${row.environment}`,
      detail: 'waits for an approval',
      atMs: row.at_ms,
      item: null,
    })
  }
  for (const row of sql(ctx.db, LIST_PULL_REQUEST).all<{
    repository: string
    number: number
    title: string
    head: string
    updated_at_ms: number
    asked_at_ms: number | null
  }>({
    hidden: hiddenRepositories(ctx.db, who),
    personId: who.personId,
  })) {
    waiting.push({
      why: 'review',
      ref: { kind: 'pull-request', id: `${row.repository}/${row.number}` },
      title: row.title,
      detail: `${row.asked_at_ms === null ? 'pull request' : 'you are asked to look at pull request'} ${row.number} in ${row.repository}`,
      atMs: row.asked_at_ms ?? row.updated_at_ms,
      item: null,
    })
  }
  for (const { agreement, key, left } of me === null ? [] : agreementsWaitingFor(ctx, me))
    waiting.push({
      why: 'agree',
      ref: { kind: 'requirement', id: key },
      title: agreement.name,
      detail: `you are asked to agree to ${plural(left, 'requirement')}${agreement.dueOn === null ? '' : `, by ${agreement.dueOn}`}`,
      atMs: agreement.atMs,
      item: null,
    })
  for (const { train, missing } of me === null ? [] : trainsWaitingFor(ctx, who))
    waiting.push({
      why: 'make',
      ref: { kind: 'environment', id: `${train.project}/${train.trainId}` },
      title: `${train.name} is ready`,
      detail: [`all that it waits for is merged; ${plural(missing, 'release')} to make`, train.heldWhy].filter(Boolean).join('. '),
      atMs: train.readyAtMs ?? train.atMs,
      item: null,
    })
  add(
    'build-broke',
    items(`${mine} AND substr(i.stair, 4, 1) = 'x'`, 'INDEXED BY item_broke'),
    () => 'the newest build of its branch broke',
  )
  add('overdue', items(`${mine} AND i.due_on IS NOT NULL AND i.due_on < @today`), (row) => `was due on ${row.due_on}`)
  const duty = sql(ctx.db, LIST_PROJECT)
    .all<{ prefix: string }>({})
    .filter((row) => mayIn(who, 'project.read', row.prefix))
    .map((row) => onDuty(ctx, row.prefix))
  for (const entry of firstWaiting(ctx, who, DECISIONS_SHOWN)) {
    if (waiting.some((known) => known.ref.id === entry.item.key)) continue
    waiting.push({
      why: 'decide',
      ref: { kind: 'item', id: entry.item.key },
      title: entry.item.title,
      detail: [
        duty.includes(who.personId) && who.personId !== null ? 'you are on duty' : null,
        entry.fault ? `from ${entry.fault}` : `from ${entry.from}`,
      ]
        .filter(Boolean)
        .join(', '),
      atMs: entry.atMs,
      item: entry.item,
    })
  }
  add('fix', items(`${mine} AND i.stage_rank = 1 AND i.severity <= 2`), () => 'accepted, nobody has started')
  add('verify', items(`${mine} AND i.stage_rank = 5 AND i.fault IS NULL`), () => 'released; nothing but a person can verify it')
  return {
    missing: missingSteps(ctx, who),
    waiting,
    unexplained:
      me !== null && Object.keys(who.roles).some((project) => mayIn(who, 'items.change', project)) ? countUnexplainedLately(ctx, who) : 0,
    working: items(`${mine} AND i.stage_rank BETWEEN 2 AND 4`).map((row) => ({ item: toSummary(row), sinceMs: sinceOf(ctx, row) })),
  }
}

function askedWords(ctx: ServiceContext, key: string): string {
  return sql(ctx.db, GET_WORDS_OF_ITEM_BY_KEY).get<{ words: string | null }>({ key })?.words?.slice(0, 100) ?? ''
}

/** Since when an item is being worked on: its start, else the first branch or commit that names it. */
function sinceOf(ctx: ServiceContext, row: ItemRow): number {
  const started = sql(ctx.db, GET_STARTED_AT_MS_OF_ITEM_BY_KEY).get<{ started_at_ms: number | null }>({ key: row.key })
  if (started?.started_at_ms) return started.started_at_ms
  return sql(ctx.db, GET_AT_MS_OF_LINK_ASSERTION_BY_KEY).get<{ at_ms: number | null }>({ key: row.key })?.at_ms ?? row.updated_at_ms
}
