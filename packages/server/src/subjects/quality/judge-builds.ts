import { hash } from 'node:crypto'
import type { Finding } from '@dystracer/core/builds/reports/report'
import { ruleFor, type ReadQualityRule } from '@dystracer/core/quality/quality-rule'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { inPieces } from '#platform/jobs/in-pieces'
import type { JournalWriter } from '#platform/journal/journal'
import { notify } from '#subjects/inbox/index'
import { changesOf, requireItem } from '#subjects/records/index'
import { coverageOf, failuresOf, findingOf, type Candidate } from './candidates.js'
import { foundBefore, logFound, placeOf } from './quality-items.js'
import { LIST_KNOWN_FINDINGS } from './quality-items.queries.js'
import { readRulesAbout } from './rules.js'
import { COUNT_LOGGED_SINCE, GET_GATHERING, HAS_FIRED } from './rules.queries.js'

const DAY_MS = 86_400_000
/** So many items come of one build or report at most: more at once have one cause, which the first of them show. */
const ITEMS_MAX = 20
/** So many lines of what was gathered stand in the item. */
const GATHERED_LINES_MAX = 200

type Place = NonNullable<ReturnType<typeof placeOf>>

/** Asks the rules about the tests that fail in a build. To be called inside the write that the build or its results came with. */
export function judgeTests(ctx: ServiceContext, writer: JournalWriter, of: { repository: string; build: number }): void {
  const place = placeOf(ctx, of.repository)
  const rules = place ? readRulesAbout(ctx, place.project, 'test') : []
  if (place && rules.length > 0) carryOut(ctx, writer, { place, rules, candidates: failuresOf(ctx, of) })
}

/** The same about the coverage of a build that has ended. */
export function judgeCoverage(ctx: ServiceContext, writer: JournalWriter, of: { repository: string; build: number }): void {
  const place = placeOf(ctx, of.repository)
  const rules = place ? readRulesAbout(ctx, place.project, 'coverage') : []
  const candidate = rules.length > 0 ? coverageOf(ctx, of) : null
  if (place && candidate) carryOut(ctx, writer, { place, rules, candidates: [candidate] })
}

/**
 * Writes the findings of a commit, and asks the rules about those that were never found before, by the tool's own identity of them. What
 * goes beyond the first of a report is gathered in one more item, so that no flood drowns Triage and nothing is lost. Gives how many items
 * it made, and what the sender should know.
 */
export async function judgeFindings(
  ctx: ServiceContext,
  input: { repository: string; commit: string; atMs?: number },
  findings: readonly Finding[],
): Promise<{ items: number; notes: string[] }> {
  const { repository, commit: sha } = input
  const place = placeOf(ctx, repository)
  const rules = place ? readRulesAbout(ctx, place.project, 'finding') : []
  const fresh = rules.length === 0 ? [] : neverFound(ctx, repository, findings)
  const worstFirst = fresh.toSorted((a, b) => Number(b.level === 'error') - Number(a.level === 'error'))
  let made = { logged: 0, gathered: 0, items: 0 }
  await inPieces(findings, (piece, isLast) =>
    ctx.journal.write((writer) => {
      const source = `commit:${repository}/${sha}`
      writer.append({
        kind: 'findings-reported',
        actor: 'source:build-service',
        subjects: [source],
        source,
        idempotencyKey: `findings/${repository}/${sha}/${hash('sha256', JSON.stringify(piece), 'base64url')}`,
        ...(input.atMs !== undefined && { atMs: input.atMs }),
        body: { repository, sha, findings: piece },
      })
      if (!isLast || place === null) return
      made = carryOut(ctx, writer, { place, rules, candidates: worstFirst.map((finding) => findingOf({ repository, sha }, finding)) })
    }),
  )
  if (place === null)
    return {
      items: 0,
      notes: [`No service of ${repository} is set up in a project that is worked in, so its findings are kept and no item is ` + 'logged.'],
    }
  const notes =
    made.gathered > 0
      ? [
          `${made.logged + made.gathered} findings are new: ${made.logged} are items of their own, the other ` +
            `${made.gathered} are gathered in one.`,
        ]
      : []
  return { items: made.items, notes }
}

/** The findings that no report before this one held. */
function neverFound(ctx: ServiceContext, repository: string, findings: readonly Finding[]): Finding[] {
  const known = new Set(
    sql(ctx.db, LIST_KNOWN_FINDINGS)
      .all<{ at: number }>({ repository, findings: JSON.stringify(findings.map(({ tool, identity }) => ({ tool, identity }))) })
      .map(({ at }) => at),
  )
  return findings.filter((_, at) => !known.has(at))
}

/** Does what the rules say about each thing that none took before; what goes beyond their budgets is gathered. */
function carryOut(
  ctx: ServiceContext,
  writer: JournalWriter,
  { place, rules, candidates }: { place: Place; rules: readonly ReadQualityRule[]; candidates: readonly Candidate[] },
): { logged: number; gathered: number; items: number } {
  const byRule = new Map<ReadQualityRule, Candidate[]>()
  for (const candidate of candidates) {
    const rule = ruleFor(rules, candidate.facts)
    if (rule?.act !== 'log' || isTaken(ctx, candidate.idempotencyKey)) continue
    const taken = byRule.get(rule)
    if (taken) taken.push(candidate)
    else byRule.set(rule, [candidate])
  }
  let [left, logged, gathered, items] = [ITEMS_MAX, 0, 0, 0]
  for (const [rule, taken] of byRule) {
    const own = taken.slice(0, Math.max(0, Math.min(left, budgetOf(ctx, place.project, rule))))
    for (const candidate of own) logOne(ctx, writer, { place, rule, candidate })
    left -= own.length
    logged += own.length
    items += own.length
    const rest = taken.slice(own.length)
    gathered += rest.length
    if (rest.length > 0) items += gather(ctx, writer, { place, rule, rest })
  }
  return { logged, gathered, items }
}

/** Whether an item stands for it, alone or among others. */
function isTaken(ctx: ServiceContext, identity: string): boolean {
  return foundBefore(ctx, identity) !== null || sql(ctx.db, HAS_FIRED).get({ identity }) !== undefined
}

/** How many items a rule may log yet today. */
function budgetOf(ctx: ServiceContext, project: string, { ruleId, perDay }: ReadQualityRule): number {
  if (perDay === null) return Number.POSITIVE_INFINITY
  const { count } = sql(ctx.db, COUNT_LOGGED_SINCE).get<{ count: number }>({ project, ruleId, sinceMs: ctx.nowMs() - DAY_MS }) ?? {
    count: 0,
  }
  return perDay - count
}

interface Logging {
  place: Place
  rule: ReadQualityRule
}

function logOne(ctx: ServiceContext, writer: JournalWriter, { place, rule, candidate }: Logging & { candidate: Candidate }): void {
  const { idempotencyKey, title, description, cause, paths } = candidate
  const key = logAs(ctx, writer, { place, rule }, { idempotencyKey, title, description, cause, source: candidate.place, paths })
  fired(ctx, writer, { rule, project: place.project, candidate, key, outcome: 'logged' })
}

type Text = Pick<Parameters<typeof logFound>[2], 'idempotencyKey' | 'title' | 'description' | 'cause' | 'source' | 'paths'>

function logAs(ctx: ServiceContext, writer: JournalWriter, { place, rule }: Logging, text: Text): string {
  const { type, severity, labels, milestone, ownerId, isAccepted, tellIds, name } = rule
  const component = rule.component ?? place.component
  const by = { actor: `rule:${rule.ruleId}` as const, cause: name }
  const key = logFound(ctx, writer, { ...place, ...text, by, type, severity, labels, milestone, component })
  if (ownerId !== null) change(ctx, writer, rule, key, { ownerId })
  if (isAccepted) writer.append({ kind: 'item-accepted', actor: by.actor, subjects: [`item:${key}`], cause: name, body: { key } })
  notify(ctx, writer, {
    key,
    by: { actor: by.actor, personId: null },
    personIds: tellIds,
    why: 'rule',
    words: `${text.title} (rule “${name}”)`,
  })
  return key
}

function change(
  ctx: ServiceContext,
  writer: JournalWriter,
  rule: ReadQualityRule,
  key: string,
  wanted: Parameters<typeof changesOf>[1],
): void {
  const changes = changesOf(requireItem(ctx, key), wanted)
  if (Object.keys(changes).length === 0) return
  writer.append({ kind: 'item-changed', actor: `rule:${rule.ruleId}`, subjects: [`item:${key}`], cause: rule.name, body: { key, changes } })
}

/** Puts what a rule may not log any more into one item, that of the day where one is open. Gives how many items it made. */
function gather(ctx: ServiceContext, writer: JournalWriter, { place, rule, rest }: Logging & { rest: readonly Candidate[] }): number {
  const known = sql(ctx.db, GET_GATHERING).get<{ key: string; description: string }>({
    project: place.project,
    ruleId: rule.ruleId,
    sinceMs: ctx.nowMs() - DAY_MS,
  })
  const rows = rest.map(({ row }) => `| ${row.map(cell).join(' | ')} |`)
  if (known) {
    const room = Math.max(0, GATHERED_LINES_MAX - known.description.split('\n').length)
    if (room > 0) change(ctx, writer, rule, known.key, { description: [known.description, ...rows.slice(0, room)].join('\n') })
    for (const candidate of rest) fired(ctx, writer, { rule, project: place.project, candidate, key: known.key, outcome: 'gathered' })
    return 0
  }
  const [first] = rest
  if (!first) return 0
  const shown = rows.slice(0, GATHERED_LINES_MAX)
  const identities = rest.map((one) => one.idempotencyKey).join('\n')
  const more = rows.length > shown.length ? `\n\nand ${rows.length - shown.length} more.` : ''
  const key = logAs(
    ctx,
    writer,
    { place, rule },
    {
      idempotencyKey: `gathered/${place.project}/${rule.ruleId}/${hash('sha256', identities, 'base64url')}`,
      title: `${rest.length} further ${WHAT[first.facts.about]} of ${first.facts.values.repository}`,
      description:
        `Taken by the rule “${rule.name}”, beside those that are items of their own.\n\n| what | place | what it says |\n|---|---|---|\n` +
        `${shown.join('\n')}${more}`,
      cause: first.cause,
      source: first.place,
      paths: [...new Set(rest.flatMap(({ paths }) => paths))].slice(0, ITEMS_MAX),
    },
  )
  for (const candidate of rest) fired(ctx, writer, { rule, project: place.project, candidate, key, outcome: 'gathered' })
  return 1
}
const WHAT: Record<Candidate['facts']['about'], string> = { test: 'failing tests', finding: 'findings', coverage: 'falls of coverage' }

interface Fired {
  rule: ReadQualityRule
  project: string
  candidate: Candidate
  key: string
  outcome: 'logged' | 'gathered'
}

function fired(ctx: ServiceContext, writer: JournalWriter, { rule, project, candidate, key, outcome }: Fired): void {
  writer.append({
    kind: 'quality-rule-fired',
    actor: `rule:${rule.ruleId}`,
    subjects: [`item:${key}`, `project:${project}`],
    cause: rule.name,
    body: {
      firingId: ctx.newId(),
      project,
      ruleId: rule.ruleId,
      about: rule.about,
      identity: candidate.idempotencyKey,
      what: candidate.title.slice(0, 200),
      place: candidate.place,
      key,
      outcome,
    },
  })
}

/** A text as it can stand in a cell of a Markdown table. */
function cell(text: string): string {
  return text.replaceAll('|', '\\|').replaceAll(/\s+/g, ' ').slice(0, 300)
}
