import type { Actor } from '@dystracer/core/contract/events'
import type { Grouping } from '@dystracer/core/traces/grouping'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { assertLink, nextItemKey } from '#subjects/records/index'
import { routeNewItem } from '#subjects/routing/index'
import {
  GET_COUNTS,
  GET_NAME_OF_COMPONENT_BY_REPOSITORY,
  GET_NEWEST,
  GET_RELEASE_OF_FAULT_RELEASE_BY_FINGERPRINT,
} from './log-from-fault.queries.js'

/** A group of occurrences as the volume keeps it. */
export interface GroupRow {
  fingerprint: string
  service: string
  grouping: string
  trace_digest: string
  first_at_ms: number
  last_at_ms: number
  severity_number: number
}

/** Who logs an item, and what of it is said beforehand. */
export interface LogFromFault {
  by: { actor: Actor; cause: string; personId?: string | null; atMs: number }
  group: GroupRow
  number: number
  project: string
  repository: string
  type?: string
  title?: string
  severity?: number | null
  component?: string | null
  milestone?: string | null
  labels?: readonly string[]
}

/** Logs the item that stands for a fault, for whoever says so; gives its key. */
export function logFromFault(ctx: ServiceContext, writer: JournalWriter, input: LogFromFault): string {
  const { by, group, number } = input
  const grouping = JSON.parse(group.grouping) as Grouping
  const fault = `F-${number}`
  const item = nextItemKey(ctx, input.project)
  const component = sql(ctx.db, GET_NAME_OF_COMPONENT_BY_REPOSITORY).get<{ name: string }>({ repository: input.repository })
  const { actor, cause, atMs } = by
  const isByRule = actor.startsWith('rule:')
  const { fingerprint } = group
  const release = sql(ctx.volume, GET_RELEASE_OF_FAULT_RELEASE_BY_FINGERPRINT).get<{ release: string }>({ fingerprint })
  writer.append({
    kind: 'item-logged',
    actor,
    atMs,
    cause,
    source: `fault:${fault}`,
    subjects: [`item:${item.key}`, `fault:${fault}`],
    body: {
      ...item,
      project: input.project,
      type: input.type ?? 'defect',
      title: input.title ?? titleOf(grouping, group.service),
      description: describe(ctx, grouping, group, fault),
      severity: input.severity ?? null,
      component: input.component ?? component?.name ?? null,
      milestone: input.milestone ?? null,
      labels: [...(input.labels ?? [])],
      foundIn: release ? `${group.service}@${release.release}` : null,
      cause: isByRule ? 'rule' : 'person',
      reporterId: by.personId ?? null,
      fault,
    },
  })
  assertLink(ctx.db, writer, {
    kind: 'tied',
    from: { kind: 'item', id: item.key },
    to: { kind: 'fault', id: fault },
    provenance: isByRule ? 'rule' : 'person',
    source: `fault:${fault}`,
    statedBy: isByRule ? cause : actor,
    actor,
    atMs,
    cause,
  })
  routeNewItem(ctx, writer, item.key, tailsOf(grouping.topAppFrame?.file ?? ''))
  return item.key
}

/** What broke and where, as short as a person would say it. */
export function titleOf(grouping: Grouping, service: string): string {
  const place = grouping.topAppFrame?.function ?? grouping.topAppFrame?.file ?? service
  return `${grouping.type} in ${place}`
}

/** Attributes that say what a person did, in the names of OpenTelemetry's conventions. */
const TOLD_ATTRIBUTES = [
  'http.request.method',
  'http.route',
  'url.path',
  'http.response.status_code',
  'rpc.method',
  'messaging.operation.name',
  'code.function.name',
]
const LINES_SHOWN = 8

/** The text of an item that stands for a fault: what was seen, where, how often, and what the program was asked when it failed. */
function describe(ctx: ServiceContext, grouping: Grouping, group: GroupRow, fault: string): string {
  const { fingerprint } = group
  const counts = sql(ctx.volume, GET_COUNTS).get<{ count: number; people: number; releases: string | null; environments: string | null }>({
    fingerprint,
  })
  const newest = sql(ctx.volume, GET_NEWEST).get<{ attributes: string; stacktrace: string }>({ fingerprint })
  const attributes = (newest ? JSON.parse(newest.attributes) : {}) as Record<string, unknown>
  const asked = TOLD_ATTRIBUTES.flatMap((name) => (attributes[name] === undefined ? [] : [`- ${name}: \`${plain(attributes[name])}\``]))
  const where = grouping.topAppFrame
  const lines =
    newest?.stacktrace
      .split('\n')
      .filter((line) => line.trim() !== '')
      .slice(0, LINES_SHOWN) ?? []
  return [
    grouping.message.slice(0, 2000),
    ...(asked.length > 0 ? [`**What it was asked**\n\n${asked.join('\n')}`] : []),
    ...(where
      ? [`**Where it broke**\n\n${where.function ?? '(anonymous)'} in \`${plain(where.file)}\`, line ${where.line ?? 'unknown'}`]
      : []),
    ...(lines.length > 0 ? [`\`\`\`\n${lines.join('\n').replaceAll('```', "'''").slice(0, 2000)}\n\`\`\``] : []),
    `Logged from fault ${fault} of ${group.service}: ${counts?.count ?? 0} times, ${counts?.people ?? 0} people hit; ` +
      `releases ${counts?.releases ?? 'not told'}; ${counts?.environments ?? ''}.`,
  ].join('\n\n')
}

/** A value between backquotes: nothing in it may end them. */
function plain(value: unknown): string {
  return String(value).replaceAll('`', "'").replaceAll(/\s+/g, ' ').slice(0, 200)
}

/** A path without its first folders, one by one: where a program was deployed says nothing of where its code belongs. */
function tailsOf(path: string): string[] {
  const parts = path.split(/[\\/]/).filter(Boolean)
  return parts.map((_, at) => parts.slice(at).join('/'))
}
