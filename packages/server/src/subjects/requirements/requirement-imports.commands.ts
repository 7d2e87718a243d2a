import papaparse from 'papaparse'
import { Problem } from '@dystracer/core/basics/problem'
import {
  planRequirements,
  type PlannedRequirement,
  type RequirementPlan,
  type StandingRequirement,
} from '@dystracer/core/requirements/import-plan'
import type { Who } from '@dystracer/core/people/who'
import { undefused } from '#platform/csv'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { requirePrefix, siblings } from './requirements.commands.js'
import {
  GET_KEY_PREFIX_BY_PREFIX,
  GET_LAST_OF_REQUIREMENT,
  GET_REQUIREMENT_BY_KEY,
  LAST_NUMBER_OF_REQUIREMENT_BY_PREFIX,
  LIST_REQUIREMENT_OF_PROJECT,
} from './requirements.queries.js'

const ROWS_MAX = 5_000

/**
 * What a CSV file of requirements would do, and, unless it is a trial, does: all of what is planned in one write, or nothing. Rows with a
 * problem are told by line and left out; requirements that are not in the file stay. Throws `malformed-body` for a file that cannot be
 * read as a whole, `invalid-input` for a prefix that is another's.
 */
export function importRequirements(
  ctx: ServiceContext,
  who: Who,
  { project, prefix, isTrial, body }: { project: string; prefix: string; isTrial: boolean; body: Buffer },
): RequirementPlan {
  requirePrefix(ctx, { prefix, project })
  const { headings, rows } = readCsv(body)
  const standing = sql(ctx.db, LIST_REQUIREMENT_OF_PROJECT).all<StandingRequirement>({ project })
  const last = sql(ctx.db, LAST_NUMBER_OF_REQUIREMENT_BY_PREFIX).get<{ number: number | null }>({ prefix })?.number ?? 0
  const plan = planRequirements({ headings, rows, standing, prefix, nextNumber: last + 1 })
  if (!isTrial && plan.fresh.length + plan.changed.length + plan.moved.length > 0)
    ctx.journal.write((writer) => write(ctx, writer, who, { plan, project, prefix }))
  return plan
}

function readCsv(body: Buffer): { headings: string[]; rows: { line: number; cells: Record<string, string> }[] } {
  let text: string
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(body)
  } catch (error) {
    throw new Problem('malformed-body', { detail: 'The file is not UTF-8. Save it as CSV in UTF-8 and send it again.', cause: error })
  }
  const parsed = papaparse.parse<Record<string, string>>(text, { header: true, skipEmptyLines: 'greedy' })
  const broken = parsed.errors.find((error) => error.type === 'Quotes')
  if (broken)
    throw new Problem('malformed-body', {
      detail: `A quote that begins near line ${(broken.row ?? 0) + 2} does not end. Nothing was taken.`,
    })
  if (parsed.data.length > ROWS_MAX)
    throw new Problem('too-large', { detail: `A file has at most ${ROWS_MAX} requirements; this one has ${parsed.data.length}.` })
  const plain = (cells: Record<string, string>) =>
    Object.fromEntries(Object.entries(cells).map(([name, cell]) => [name, undefused(String(cell ?? ''))]))
  return { headings: parsed.meta.fields ?? [], rows: parsed.data.map((cells, index) => ({ line: index + 2, cells: plain(cells) })) }
}

function write(
  ctx: ServiceContext,
  writer: JournalWriter,
  who: Who,
  { plan, project, prefix }: { plan: RequirementPlan; project: string; prefix: string },
): void {
  if (!sql(ctx.db, GET_KEY_PREFIX_BY_PREFIX).get({ prefix }))
    writer.append({
      kind: 'prefix-taken',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { project, prefix, kind: 'requirement' },
    })
  let position = sql(ctx.db, GET_LAST_OF_REQUIREMENT).get<{ position: number | null }>({})?.position ?? 0
  const append = ({ key, title, text, parent, isHeading }: PlannedRequirement, at: { revision: number; position: number }) =>
    writer.append({
      kind: 'requirement-written',
      actor: who.actor,
      subjects: [`requirement:${key}`],
      cause: 'import',
      body: { key, title, text, parent, isHeading, ...at },
    })
  for (const one of plan.fresh) append(one, { revision: 1, position: ++position })
  for (const one of plan.changed) {
    const now = sql(ctx.db, GET_REQUIREMENT_BY_KEY).get<{ revision: number; position: number; parent: string | null; is_heading: number }>({
      key: one.key,
    })
    if (now) append({ ...one, parent: now.parent, isHeading: now.is_heading === 1 }, { revision: now.revision + 1, position: now.position })
  }
  for (const { key, to } of plan.moved) {
    const order = [...siblings(ctx, { parent: to, project }).filter((sibling) => sibling !== key), key]
    writer.append({
      kind: 'requirement-placed',
      actor: who.actor,
      subjects: [`requirement:${key}`],
      cause: 'import',
      body: { key, parent: to, order },
    })
  }
}
