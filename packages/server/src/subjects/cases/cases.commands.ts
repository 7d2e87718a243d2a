import { decodeText } from '@dystracer/core/text/decode-text'
import { readHeadedRows } from '#platform/csv'
import { parseKeys, parseSteps } from '@dystracer/core/cases/steps-text'
import { zWriteCase, type CaseImport, type CaseStep, type DoCase, type WriteCase, type WritePlan } from '@dystracer/core/cases/wire'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import { undefused } from '#platform/csv'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { logWithin } from '#subjects/items/index'
import { getItem, maySee } from '#subjects/records/index'
import { readSetup, requireProject } from '#subjects/setup/index'
import { GET_CASE, GET_LAST_CASE_NUMBER, HAS_REQUIREMENT } from './cases.queries.js'
import { isShown, readPlan, requireCase, requireKnownRelease, requirePlan, verifiedBy, type CaseRow } from './cases.views.js'

/** Writes a new case and gives its number. Throws `invalid-input` for a key that names nothing. */
export function beginCase(ctx: ServiceContext, who: Who, project: string, input: WriteCase): number {
  requireProject(ctx.db, project)
  const text = { ...input, verifies: requireKeys(ctx, who, input.verifies) }
  return ctx.journal.write((writer) => {
    const number = nextNumber(ctx, project)
    append(ctx, writer, who, { project, number, now: undefined, text })
    return number
  })
}

function nextNumber(ctx: ServiceContext, project: string): number {
  return (sql(ctx.db, GET_LAST_CASE_NUMBER).get<{ number: number | null }>({ project })?.number ?? 0) + 1
}

/** Writes the text of a case as the revision after the one that stands; the ladders of what it verified and verifies follow. */
function append(
  ctx: ServiceContext,
  writer: JournalWriter,
  who: Who,
  { project, number, now, text }: { project: string; number: number; now: CaseRow | undefined; text: WriteCase },
): void {
  const body = { project, number, revision: (now?.revision ?? 0) + 1, ...text }
  writer.append({ kind: 'case-written', actor: who.actor, subjects: [`project:${project}`], body })
  touch(ctx, writer, [...text.verifies, ...(now ? verifiedBy(now) : [])])
}

/** The ladders of items that a case verifies follow what is said of it. */
function touch(ctx: ServiceContext, writer: JournalWriter, verifies: readonly string[]): void {
  writer.touch(verifies.filter((key) => getItem(ctx.db, key) !== undefined))
}

/** Each key once. Throws `invalid-input` for one that names no requirement and no item that the asker may see. */
function requireKeys(ctx: ServiceContext, who: Who, keys: readonly string[]): string[] {
  const wrong = keys.find((key) => !isShown(ctx, who, key))
  if (wrong !== undefined) throw new Problem('invalid-input', { fields: { verifies: `${wrong} is no requirement and no item` } })
  return [...new Set(keys)]
}

/** A text as it is written over one that stands: ties to what the writer may not see are not theirs to lose. */
function withHiddenKeys(ctx: ServiceContext, who: Who, now: CaseRow, text: WriteCase): WriteCase {
  const standing = verifiedBy(now)
  const shown = standing.filter((key) => isShown(ctx, who, key))
  const hidden = standing.filter((key) => !shown.includes(key))
  return { ...text, verifies: shown.join() === text.verifies.join() ? standing : [...text.verifies, ...hidden] }
}

/** Writes a case anew. Results that were given for the text before are stale from then on. Throws `not-found`, `invalid-input`. */
export function writeCase(ctx: ServiceContext, who: Who, project: string, number: number, input: WriteCase): void {
  const row = requireCase(ctx, project, number)
  const text = withHiddenKeys(ctx, who, row, { ...input, verifies: requireKeys(ctx, who, input.verifies) })
  if (isSame(row, text)) return
  ctx.journal.write((writer) => append(ctx, writer, who, { project, number, now: row, text }))
}

function isSame(row: CaseRow, { title, text, steps, verifies }: WriteCase): boolean {
  return row.title === title && row.text === text && row.steps === JSON.stringify(steps) && row.verifies === JSON.stringify(verifies)
}

/** Says that a case is done no more, or is again. Throws `not-found`. */
export function retireCase(ctx: ServiceContext, who: Who, project: string, number: number, isRetired: boolean): void {
  const row = requireCase(ctx, project, number)
  if ((row.is_retired === 1) === isRetired) return
  ctx.journal.write((writer) => {
    writer.append({ kind: 'case-retired', actor: who.actor, subjects: [`project:${project}`], body: { project, number, isRetired } })
    touch(ctx, writer, verifiedBy(row))
  })
}

/**
 * Plans which cases are done, and gives the plan's id; with an id it changes that one. Throws
 * `invalid-input`, `not-found`, `conflict` once it is signed.
 */
export function planCases(ctx: ServiceContext, who: Who, project: string, input: WritePlan, planId: string | null = null): string {
  requireProject(ctx.db, project)
  if (planId !== null) requireUnsigned(ctx, project, planId)
  const missing = input.cases.find((number) => sql(ctx.db, GET_CASE).get({ project, number }) === undefined)
  if (missing !== undefined) throw new Problem('invalid-input', { fields: { cases: `There is no test case ${missing}` } })
  if (input.release !== null) requireKnownRelease(ctx, input.release)
  const id = planId ?? ctx.newId()
  const body = { project, planId: id, ...input, cases: [...new Set(input.cases)], environments: [...new Set(input.environments)] }
  ctx.journal.write((writer) => {
    writer.append({
      kind: planId === null ? 'test-plan-made' : 'test-plan-changed',
      actor: who.actor,
      subjects: [`project:${project}`],
      body,
    })
  })
  return id
}

function requireUnsigned(ctx: ServiceContext, project: string, planId: string) {
  const plan = requirePlan(ctx, project, planId)
  if (plan.signed_by !== null)
    throw new Problem('conflict', { detail: 'Somebody stands for this plan as it was done. Take the signature back first.' })
  return plan
}

/**
 * Says what came of doing a case; of one that failed a defect may be logged in the same write, with its
 * steps, what was expected and what was seen. Throws `not-found`, `invalid-input` for what is not in the
 * plan, `conflict` once the plan is signed.
 */
export function doCase(ctx: ServiceContext, who: Who, project: string, planId: string, input: DoCase): void {
  const plan = requireUnsigned(ctx, project, planId)
  const { number, environment, outcome } = input
  if (!(JSON.parse(plan.cases) as number[]).includes(number))
    throw new Problem('invalid-input', { fields: { number: `Case ${number} is not in this plan` } })
  if (!(JSON.parse(plan.environments) as string[]).includes(environment))
    throw new Problem('invalid-input', { fields: { environment: `${environment} is not in this plan` } })
  const row = requireCase(ctx, project, number)
  if (input.revision > row.revision)
    throw new Problem('invalid-input', { fields: { revision: `Case ${number} is at revision ${row.revision}` } })
  if (input.item !== null && !(getItem(ctx.db, input.item) && maySee(ctx.db, who, input.item)))
    throw new Problem('invalid-input', { fields: { item: `There is no item ${input.item}` } })
  const verifies = verifiedBy(row)
  ctx.journal.write((writer) => {
    const item =
      input.logsDefect && outcome === 'failed'
        ? logDefect(ctx, writer, who, { project, row, input, release: plan.release, verifies })
        : input.item
    writer.append({
      kind: 'test-done',
      actor: who.actor,
      subjects: [`project:${project}`, ...(item === null ? [] : [`item:${item}`])],
      body: {
        project,
        planId,
        resultId: ctx.newId(),
        number,
        revision: input.revision,
        environment,
        outcome,
        step: input.step,
        words: input.words,
        item,
      },
    })
    touch(ctx, writer, verifies)
  })
}

/** A defect of what failed: what was done, expected and seen; it breaks the first requirement that the case verifies. */
function logDefect(
  ctx: ServiceContext,
  writer: JournalWriter,
  who: Who,
  {
    project,
    row,
    input,
    release,
    verifies,
  }: { project: string; row: CaseRow; input: DoCase; release: string | null; verifies: readonly string[] },
): string {
  const steps = JSON.parse(row.steps) as CaseStep[]
  const until = input.step ?? steps.length
  const failed = steps[until - 1]
  const description = [
    `Found by test case ${row.number}, revision ${input.revision}${release === null ? '' : `, in ${release}`}, in ${input.environment}.`,
    row.text.trim(),
    steps
      .slice(0, until)
      .map((step, at) => `${at + 1}. ${step.do.replaceAll('\n', '\n   ')}`)
      .join('\n'),
    failed?.expect ? `**Expected:** ${failed.expect}` : '',
    `**Seen:** ${input.words}`,
  ]
  const type = readSetup(ctx.db, project).types.find(({ isDefect }) => isDefect)?.type ?? 'defect'
  const requirement = verifies.find((one) => sql(ctx.db, HAS_REQUIREMENT).get({ key: one })) ?? null
  const { key } = logWithin(ctx, writer, who, {
    project,
    requirement,
    type,
    title: `${row.title}: ${failed?.expect || failed?.do || 'failed'}`.replace(/\s+/g, ' ').slice(0, 200),
    description: description.filter((part) => part !== '').join('\n\n'),
    ...(release !== null && { foundIn: release.slice(release.lastIndexOf('@') + 1) }),
  })
  return key
}

/** Stands for a plan as it was done, or takes that back. Throws `not-found`, `conflict` while something is open. */
export function signPlan(
  ctx: ServiceContext,
  who: Who,
  { project, planId }: { project: string; planId: string },
  { isSigned, words }: { isSigned: boolean; words: string },
): void {
  const { signed, progress } = readPlan(ctx, who, project, planId)
  if ((signed !== null) === isSigned) return
  const { open } = progress
  if (isSigned && open > 0)
    throw new Problem('conflict', { detail: `${open} of it ${open === 1 ? 'is' : 'are'} not done yet. Do, block or skip what is left.` })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'test-plan-signed',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { project, planId, isSigned, words },
    })
  })
}

const ROWS_MAX = 5000

/**
 * What a CSV file of cases would do, and, unless it is a trial, does in one write. A row with the number of
 * a case writes that one anew, any other is a new case; a row with a problem is told by its line and left out. Throws `too-large`.
 */
export function importCases(
  ctx: ServiceContext,
  who: Who,
  { project, isTrial, body }: { project: string; isTrial: boolean; body: Buffer },
): CaseImport {
  requireProject(ctx.db, project)
  const decoded = decodeText(body)
  if (!decoded.ok) throw new Problem('malformed-body', { detail: `The file cannot be read: ${decoded.why}. Nothing was written.` })
  const { rows, headings, renamed, unclosedAt } = readHeadedRows(decoded.text)
  if (unclosedAt !== null)
    throw new Problem('malformed-body', {
      detail: `A quotation mark that opens near row ${unclosedAt + 2} is never closed. Nothing was written.`,
    })
  if (!headings.some((field) => /^title$/i.test(field.trim())))
    return { new: [], changed: [], same: 0, problems: [{ line: 1, words: 'No column is called title; name one so' }] }
  if (rows.length > ROWS_MAX) throw new Problem('too-large', { detail: `A file has at most ${ROWS_MAX} cases.` })
  const problems = renamed.map(({ name, column }) => ({
    line: 1,
    words: `Two columns are called “${column}”; the later one is read as “${name}”`,
  }))
  const answer: CaseImport = { new: [], changed: [], same: 0, problems }
  const writes: Parameters<typeof append>[3][] = []
  const written = new Set<number>()
  let next = nextNumber(ctx, project)
  for (const [at, row] of rows.entries()) {
    const line = at + 2
    const read = readRow(ctx, who, row)
    if ('why' in read) {
      answer.problems.push({ line, words: read.why })
      continue
    }
    const now = read.number === null ? undefined : sql(ctx.db, GET_CASE).get<CaseRow>({ project, number: read.number })
    const text = now ? withHiddenKeys(ctx, who, now, read.text) : read.text
    if (now && written.has(now.number)) answer.problems.push({ line, words: `The number ${now.number} stands in the file twice` })
    else if (now && isSame(now, text)) answer.same++
    else {
      const number = now?.number ?? next++
      answer[now ? 'changed' : 'new'].push({ number, title: text.title, line })
      writes.push({ project, number, now, text })
    }
    if (now) written.add(now.number)
  }
  if (!isTrial && writes.length > 0)
    ctx.journal.write((writer) => {
      for (const write of writes) append(ctx, writer, who, write)
    })
  return answer
}

/** A row of a table as the text of a case and the number that it names; or why it is none, in words. */
function readRow(
  ctx: ServiceContext,
  who: Who,
  row: Readonly<Record<string, string>>,
): { number: number | null; text: WriteCase } | { why: string } {
  const cells = new Map(Object.entries(row).map(([field, cell]) => [field.trim().toLowerCase(), undefused(String(cell).trim())]))
  const cell = (name: string) => cells.get(name) ?? ''
  const draft = zWriteCase.safeParse({
    title: cell('title'),
    text: cell('text'),
    steps: parseSteps(cell('steps')),
    verifies: parseKeys(cell('verifies')),
  })
  if (!draft.success) return { why: `${draft.error.issues[0]?.path.join(' ')}: ${draft.error.issues[0]?.message}` }
  try {
    const text = { ...draft.data, verifies: requireKeys(ctx, who, draft.data.verifies) }
    return { number: cell('number') === '' ? null : Number(cell('number')) || 0, text }
  } catch (error) {
    if (error instanceof Problem) return { why: error.fields?.verifies ?? error.message }
    throw error
  }
}
