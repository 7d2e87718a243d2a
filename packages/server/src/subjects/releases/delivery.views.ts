import { compareVersions } from '@dystracer/core/releases/compare-versions'
import { deliveryFigures, type Delivered, type DeliveredDeployment } from '@dystracer/core/releases/delivery'
import type { Delivery } from '@dystracer/core/releases/delivery-wire'
import { groupBy } from '@dystracer/core/basics/group-by'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { graphOf } from '#subjects/code/index'
import { hiddenServices, maySee } from '#subjects/records/index'
import { LIST_COMMIT_TIMES, LIST_FIXED_ITEMS, LIST_PRODUCTION_DEPLOYMENT } from './delivery.queries.js'
import { LIST_SERVICE } from './releases.queries.js'

const DAY_MS = 86_400_000
interface Row {
  deploymentId: string
  service: string
  release: string
  environment: string
  state: string
  atMs: number
  runningAtMs: number | null
  sha: string | null
}

/**
 * How well the services that the asker may see were delivered in so many days back. Commits and
 * items count when they first run in production.
 */
export function readDelivery(ctx: ServiceContext, who: Who, days: number): Delivery {
  const untilMs = ctx.nowMs()
  const fromMs = untilMs - days * DAY_MS
  const services = sql(ctx.db, LIST_SERVICE).all<{ name: string; repository: string }>({ hidden: hiddenServices(ctx.db, who) })
  const commits: Delivered[] = []
  const items: Delivered[] = []
  const deployments = services.flatMap(({ name, repository }) => {
    const rows = sql(ctx.db, LIST_PRODUCTION_DEPLOYMENT).all<Row>({ service: name })
    for (const arrival of arrivalsOf(ctx, { repository, rows, fromMs })) {
      commits.push(...arrival.commits.map((one) => ({ ...one, service: name })))
      items.push(...arrival.items.filter(({ id }) => maySee(ctx.db, who, id)).map((one) => ({ ...one, service: name })))
    }
    return [...groupBy(rows, ({ environment }) => environment).values()].flatMap(judged)
  })
  return { fromMs, untilMs, rows: deliveryFigures({ deployments, commits, items: wholeOf(items), fromMs, untilMs }) }
}

/** Deployments of one place with what became of each: it failed, or the next one there was of an older release. */
function judged(rows: readonly Row[]): DeliveredDeployment[] {
  return rows.map((row, at) => {
    const next = rows.slice(at + 1).find((other) => other.runningAtMs !== null && other.release !== row.release)
    const hasFailed = row.state === 'failed'
    const isTakenBack = next !== undefined && compareVersions(next.release, row.release) < 0
    const { service, deploymentId, release, environment, atMs, runningAtMs } = row
    const isBad = hasFailed || isTakenBack
    return {
      service,
      deploymentId,
      release,
      environment,
      atMs,
      runningAtMs,
      isBad,
      restoredAtMs: isBad ? (next?.runningAtMs ?? null) : null,
    }
  })
}

interface Arrival {
  commits: Omit<Delivered, 'service'>[]
  items: Omit<Delivered, 'service'>[]
}
/** What each deployment brought to production that no earlier one had: by the graph, so that a roll-back brings nothing. */
function arrivalsOf(
  ctx: ServiceContext,
  { repository, rows, fromMs }: { repository: string; rows: readonly Row[]; fromMs: number },
): Arrival[] {
  const graph = graphOf(ctx, repository)
  const before = new Set<string>()
  return rows.flatMap(({ runningAtMs, sha }): Arrival[] => {
    if (runningAtMs === null || sha === null || before.has(sha) || graph.get(sha) === undefined) return []
    const isFirst = before.size === 0
    const fresh = isFirst || runningAtMs < fromMs ? [] : [...graph.between([sha], before)]
    before.add(sha)
    // What the very first one held was made before anybody counted.
    if (fresh.length === 0) return []
    const commits = sql(ctx.db, LIST_COMMIT_TIMES).all<{ sha: string; atMs: number }>({ repository, shas: JSON.stringify(fresh) })
    const ids = JSON.stringify(fresh.map((one) => `${repository}/${one}`))
    const items = sql(ctx.db, LIST_FIXED_ITEMS).all<{ key: string; atMs: number }>({ ids })
    return [
      {
        commits: commits.map((one) => ({ id: `${repository}/${one.sha}`, begunAtMs: one.atMs, runningAtMs })),
        items: items.map((one) => ({ id: one.key, begunAtMs: one.atMs, runningAtMs })),
      },
    ]
  })
}

/** An item of several services or commits counts once for each service, when its last part arrived. */
function wholeOf(items: readonly Delivered[]): Delivered[] {
  const last = new Map<string, Delivered>()
  for (const item of items) {
    const key = `${item.service}\0${item.id}`
    const known = last.get(key)
    if (!known || known.runningAtMs < item.runningAtMs) last.set(key, item)
  }
  return [...last.values()]
}
