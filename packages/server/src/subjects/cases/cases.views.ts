import { latestResults, progressOf } from '@dystracer/core/cases/stand'
import { printSteps } from '@dystracer/core/cases/steps-text'
import type { Case, CaseDetail, CaseResult, CaseStep, Plan, PlanDetail } from '@dystracer/core/cases/wire'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import { asCsv } from '#platform/csv'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { getItem, mayReadThing, maySee } from '#subjects/records/index'
import {
  GET_CASE,
  GET_PLAN,
  HAS_RELEASE,
  HAS_REQUIREMENT,
  LIST_CASE,
  LIST_CASE_REVISION,
  LIST_DONE_OF_CASE,
  LIST_DONE_OF_PLAN,
  LIST_LAST_DONE,
  LIST_PLAN,
} from './cases.queries.js'

/** A case as its table holds it. */
export interface CaseRow {
  number: number
  revision: number
  title: string
  text: string
  steps: string
  verifies: string
  is_retired: number
}
/** A plan as its table holds it. */
export interface PlanRow {
  plan_id: string
  name: string
  release: string | null
  environments: string
  cases: string
  at_ms: number
  signed_by: string | null
  signed_at_ms: number | null
  signed_words: string | null
}
type DoneRow = Omit<CaseResult, 'isStale'> & { isStale: number }

/** A case by its number. Throws `not-found`. */
export function requireCase(ctx: Pick<ServiceContext, 'db'>, project: string, number: number): CaseRow {
  const row = sql(ctx.db, GET_CASE).get<CaseRow>({ project, number })
  if (!row) throw new Problem('not-found', { detail: `There is no test case ${number} in ${project}.` })
  return row
}

/** A plan. Throws `not-found`. */
export function requirePlan(ctx: Pick<ServiceContext, 'db'>, project: string, planId: string): PlanRow {
  const row = sql(ctx.db, GET_PLAN).get<PlanRow>({ project, planId })
  if (!row) throw new Problem('not-found', { detail: 'There is no such test plan.' })
  return row
}

/** The keys that a case verifies, also those that only some may see. */
export function verifiedBy({ verifies }: Pick<CaseRow, 'verifies'>): string[] {
  return JSON.parse(verifies) as string[]
}

/** Whether a key names an item that the asker may see, or a requirement that they may read. */
export function isShown(ctx: ServiceContext, who: Who, key: string): boolean {
  if (getItem(ctx.db, key)) return maySee(ctx.db, who, key)
  return sql(ctx.db, HAS_REQUIREMENT).get({ key }) !== undefined && mayReadThing(ctx.db, who, { kind: 'requirement', id: key })
}

/** Throws `invalid-input` for a release, `service@version`, that is not there. */
export function requireKnownRelease(ctx: Pick<ServiceContext, 'db'>, release: string): void {
  const at = release.lastIndexOf('@')
  const known = at > 0 && sql(ctx.db, HAS_RELEASE).get({ service: release.slice(0, at), name: release.slice(at + 1) })
  if (!known) throw new Problem('invalid-input', { fields: { release: `There is no release ${release}; say service@version` } })
}

function shownKeys(ctx: ServiceContext, who: Who, row: CaseRow): string[] {
  return verifiedBy(row).filter((key) => isShown(ctx, who, key))
}

function toResult(ctx: ServiceContext, who: Who, { isStale, item, ...row }: DoneRow): CaseResult {
  return { ...row, isStale: isStale === 1, item: item !== null && maySee(ctx.db, who, item) ? item : null }
}

function toCase(ctx: ServiceContext, who: Who, row: CaseRow): Omit<Case, 'last'> {
  return {
    number: row.number,
    title: row.title,
    steps: (JSON.parse(row.steps) as CaseStep[]).length,
    verifies: shownKeys(ctx, who, row),
    revision: row.revision,
    isRetired: row.is_retired === 1,
  }
}

/** All cases of a project with their newest results. */
export function listCases(ctx: ServiceContext, who: Who, project: string): Case[] {
  const last = new Map(
    sql(ctx.db, LIST_LAST_DONE)
      .all<DoneRow>({ project })
      .map((row) => [row.number, toResult(ctx, who, row)]),
  )
  return sql(ctx.db, LIST_CASE)
    .all<CaseRow>({ project })
    .map((row) => ({ ...toCase(ctx, who, row), last: last.get(row.number) ?? null }))
}

/** A case whole. Throws `not-found`. */
export function readCase(ctx: ServiceContext, who: Who, project: string, number: number): CaseDetail {
  const row = requireCase(ctx, project, number)
  const results = sql(ctx.db, LIST_DONE_OF_CASE)
    .all<DoneRow>({ project, number })
    .map((done) => toResult(ctx, who, done))
  return {
    ...toCase(ctx, who, row),
    project,
    text: row.text,
    steps: JSON.parse(row.steps) as CaseStep[],
    revisions: sql(ctx.db, LIST_CASE_REVISION).all<CaseDetail['revisions'][number]>({ project, number }),
    results,
    last: results[0] ?? null,
  }
}

function toPlan(row: PlanRow, cases: ReadonlyMap<number, CaseRow>, results: readonly CaseResult[]): Plan {
  const environments = JSON.parse(row.environments) as string[]
  const planned = (JSON.parse(row.cases) as number[]).flatMap((number) => cases.get(number) ?? [])
  return {
    planId: row.plan_id,
    name: row.name,
    release: row.release,
    environments,
    cases: planned.length,
    progress: progressOf({ cases: planned, environments, results }),
    signed:
      row.signed_by === null || row.signed_at_ms === null
        ? null
        : { by: row.signed_by, atMs: row.signed_at_ms, words: row.signed_words ?? '' },
    atMs: row.at_ms,
  }
}

function resultsOfPlan(ctx: ServiceContext, who: Who, project: string, planId: string): CaseResult[] {
  return sql(ctx.db, LIST_DONE_OF_PLAN)
    .all<DoneRow>({ project, planId })
    .map((row) => toResult(ctx, who, row))
}

function casesByNumber(ctx: ServiceContext, project: string): Map<number, CaseRow> {
  return new Map(
    sql(ctx.db, LIST_CASE)
      .all<CaseRow>({ project })
      .map((row) => [row.number, row]),
  )
}

/** The plans of a project, the newest first, with how far each is. */
export function listPlans(ctx: ServiceContext, who: Who, project: string): Plan[] {
  const cases = casesByNumber(ctx, project)
  return sql(ctx.db, LIST_PLAN)
    .all<PlanRow>({ project })
    .map((row) => toPlan(row, cases, resultsOfPlan(ctx, who, project, row.plan_id)))
}

/** A plan whole. Throws `not-found`. */
export function readPlan(ctx: ServiceContext, who: Who, project: string, planId: string): PlanDetail {
  const row = requirePlan(ctx, project, planId)
  const cases = casesByNumber(ctx, project)
  const results = resultsOfPlan(ctx, who, project, planId)
  const planned = (JSON.parse(row.cases) as number[]).flatMap((number) => cases.get(number) ?? [])
  return {
    ...toPlan(row, cases, results),
    project,
    cases: planned.map((one) => toCase(ctx, who, one)),
    results: [...latestResults(results).values()],
  }
}

/** The cases as CSV; the import takes them back. */
export function casesAsCsv(ctx: ServiceContext, who: Who, project: string): string {
  const rows = sql(ctx.db, LIST_CASE).all<CaseRow>({ project })
  return asCsv(
    ['number', 'title', 'text', 'steps', 'verifies'],
    rows
      .filter((row) => row.is_retired === 0)
      .map((row) => ({
        number: row.number,
        title: row.title,
        text: row.text,
        steps: printSteps(JSON.parse(row.steps) as CaseStep[]),
        verifies: shownKeys(ctx, who, row).join(' '),
      })),
  )
}

/** The cases as Markdown, steps as a table. */
export function casesAsMarkdown(ctx: ServiceContext, who: Who, project: string): string {
  const cell = (text: string) => text.replaceAll('|', '\\|').replaceAll('\n', '<br>')
  const parts = sql(ctx.db, LIST_CASE)
    .all<CaseRow>({ project })
    .filter((row) => row.is_retired === 0)
    .map((row) => {
      const keys = shownKeys(ctx, who, row)
      const steps = (JSON.parse(row.steps) as CaseStep[]).map((step, at) => `| ${at + 1} | ${cell(step.do)} | ${cell(step.expect)} |`)
      return [
        `## ${row.number}. ${row.title}`,
        ...(keys.length > 0 ? [`Verifies: ${keys.join(', ')}`] : []),
        ...(row.text.trim() === '' ? [] : [row.text.trim()]),
        ['| | done | expected |', '| - | - | - |', ...steps].join('\n'),
      ].join('\n\n')
    })
  return `# Test cases of ${project}\n\n${parts.join('\n\n')}\n`
}
