import type { Actor } from '@dystracer/core/contract/events'
import type { FaultItemProposal } from '@dystracer/core/faults/wire'
import { fillText, hasPart } from '@dystracer/core/faults/item-text'
import type { Grouping } from '@dystracer/core/traces/grouping'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { assertLink, nextItemKey } from '#subjects/records/index'
import { trailAround } from '#subjects/telemetry/index'
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
  /** What it says, with room for what is known; empty: all that is known. */
  text?: string
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
      description: describe(ctx, { grouping, group, fault, text: input.text ?? '', release: release?.release ?? '' }),
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

/** A severity by which OpenTelemetry means that the program ended. */
const FATAL = 21

/**
 * An item for a fault as a person would begin it: its message in plain sight, steps to see it again from what the program was asked, and
 * room for what was expected. Nothing is written.
 */
export function proposalFor(
  ctx: ServiceContext,
  { group, number, project, repository }: Pick<LogFromFault, 'group' | 'number' | 'project' | 'repository'>,
): Omit<FaultItemProposal, 'requirement'> {
  const grouping = JSON.parse(group.grouping) as Grouping
  const { fingerprint, service } = group
  const component = sql(ctx.db, GET_NAME_OF_COMPONENT_BY_REPOSITORY).get<{ name: string }>({ repository })
  const release = sql(ctx.volume, GET_RELEASE_OF_FAULT_RELEASE_BY_FINGERPRINT).get<{ release: string }>({ fingerprint })
  const counts = countsOf(ctx, fingerprint)
  const where = counts?.environments ? ` in ${counts.environments.replaceAll(',', ' or ')}` : ''
  const steps = [
    `Run ${service}${release ? ` ${release.release}` : ''}${where}.`,
    ...askedOf(ctx, fingerprint).map(([name, value]) => `With \`${name}\` being \`${value}\`.`),
    ...ledTo(ctx, group),
  ]
  return {
    project,
    title: plainTitleOf(grouping, service),
    description: [
      `**Steps**\n\n${steps.map((step, at) => `${at + 1}. ${step}`).join('\n')}`,
      '**Expected**\n\n',
      `**What happens**\n\n${grouping.type}: ${grouping.message.slice(0, 2000)}`,
      ...whereOf(grouping),
      ...linesOf(ctx, fingerprint),
      `From fault F-${number}: ${counts?.count ?? 0} times, ${counts?.people ?? 0} people hit.`,
    ].join('\n\n'),
    component: component?.name ?? null,
    foundIn: release ? `${service}@${release.release}` : null,
    severity: group.severity_number >= FATAL ? 2 : null,
  }
}

const TITLE_MAX = 100

/** The first sentence of the message with where it broke; the type where the message says nothing, or too much. */
function plainTitleOf(grouping: Grouping, service: string): string {
  const [first = ''] = grouping.message.split(/[\n.;](?:\s|$)/)
  const said = first.trim()
  const place = grouping.topAppFrame?.function ?? service
  if (said.length < 4 || said.length > TITLE_MAX) return titleOf(grouping, service)
  return `${said.charAt(0).toUpperCase()}${said.slice(1)}, in ${place}`
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
function describe(
  ctx: ServiceContext,
  { grouping, group, fault, text, release }: { grouping: Grouping; group: GroupRow; fault: string; text: string; release: string },
): string {
  const counts = countsOf(ctx, group.fingerprint)
  const logged =
    `Logged from fault ${fault} of ${group.service}: ${counts?.count ?? 0} times, ${counts?.people ?? 0} people hit; ` +
    `releases ${counts?.releases ?? 'not told'}; ${counts?.environments ?? ''}.`
  const report = () => reportOf(ctx, grouping, group, logged)
  if (text === '') return report()
  const { topAppFrame: where } = grouping
  const said = fillText(text, {
    report: hasPart(text, 'report') ? report() : '',
    fault,
    service: group.service,
    type: grouping.type,
    message: grouping.message.slice(0, 2000),
    function: where?.function ?? '(anonymous)',
    file: where === null ? 'a file that is not known' : plain(where.file),
    line: String(where?.line ?? 'unknown'),
    release: release || 'not told',
    environments: counts?.environments?.replaceAll(',', ', ') ?? 'not told',
    count: String(counts?.count ?? 0),
    people: String(counts?.people ?? 0),
  })
  // Wherever it is read, it says what it came from.
  return hasPart(text, 'report') || hasPart(text, 'fault') ? said : `${said}\n\n${logged}`
}

/** All that is known, in order. */
function reportOf(ctx: ServiceContext, grouping: Grouping, group: GroupRow, logged: string): string {
  const asked = askedOf(ctx, group.fingerprint).map(([name, value]) => `- ${name}: \`${value}\``)
  return [
    grouping.message.slice(0, 2000),
    ...(asked.length > 0 ? [`**What it was asked**\n\n${asked.join('\n')}`] : []),
    ...whereOf(grouping),
    ...linesOf(ctx, group.fingerprint),
    logged,
  ].join('\n\n')
}

interface Counts {
  count: number
  people: number
  releases: string | null
  environments: string | null
}

function countsOf(ctx: ServiceContext, fingerprint: string): Counts | undefined {
  return sql(ctx.volume, GET_COUNTS).get<Counts>({ fingerprint })
}

interface NewestRow {
  attributes: string
  stacktrace: string
  trace_id: string | null
  at_ms: number
}

function newestOf(ctx: ServiceContext, fingerprint: string): NewestRow | undefined {
  return sql(ctx.volume, GET_NEWEST).get<NewestRow>({ fingerprint })
}

/** From here on OpenTelemetry means a warning. */
const WARNING = 13
const WARNINGS_MAX = 3

/** What was under way when it failed last, from outside in, and what the program had warned of just before. */
function ledTo(ctx: ServiceContext, { fingerprint, service }: GroupRow): string[] {
  const newest = newestOf(ctx, fingerprint)
  if (!newest) return []
  const { steps } = trailAround(ctx, { service, traceId: newest.trace_id, atMs: newest.at_ms })
  const under = steps.filter(({ kind, stand }) => kind === 'span' && stand === 'during')
  const warnings = steps.filter(({ kind, stand, severityNumber }) => kind === 'log' && stand === 'before' && severityNumber >= WARNING)
  const quoted = (words: string) => `\`${words.replaceAll('`', "'").replaceAll(/\s+/g, ' ').slice(0, 200)}\``
  return [
    ...(under.length > 0
      ? [`It fails in ${under.map(({ name, detail }) => quoted(detail && detail !== name ? `${name} ${detail}` : name)).join(', in it ')}.`]
      : []),
    ...warnings.slice(-WARNINGS_MAX).map(({ name }) => `Just before, ${service} warns: ${quoted(name)}.`),
  ]
}

/** What the program was asked when it failed last, as far as it says so in the open names. */
function askedOf(ctx: ServiceContext, fingerprint: string): [name: string, value: string][] {
  const newest = newestOf(ctx, fingerprint)
  const attributes = (newest ? JSON.parse(newest.attributes) : {}) as Record<string, unknown>
  return TOLD_ATTRIBUTES.flatMap((name) => (attributes[name] === undefined ? [] : [[name, plain(attributes[name])] as [string, string]]))
}

function whereOf({ topAppFrame: where }: Grouping): string[] {
  if (!where) return []
  return [`**Where it broke**\n\n${where.function ?? '(anonymous)'} in \`${plain(where.file)}\`, line ${where.line ?? 'unknown'}`]
}

/** The first lines of the newest trace, as code. */
function linesOf(ctx: ServiceContext, fingerprint: string): string[] {
  const lines =
    newestOf(ctx, fingerprint)
      ?.stacktrace.split('\n')
      .filter((line) => line.trim() !== '')
      .slice(0, LINES_SHOWN) ?? []
  return lines.length > 0 ? [`\`\`\`\n${lines.join('\n').replaceAll('```', "'''").slice(0, 2000)}\n\`\`\``] : []
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
