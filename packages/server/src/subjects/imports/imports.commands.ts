import { createHash } from 'node:crypto'
import { mkdirSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { convert } from 'html-to-text'
import { Problem } from '@dystracer/core/basics/problem'
import { guessMapping, isOwnExport } from '@dystracer/core/imports/guess-mapping'
import { addressIn } from '@dystracer/core/imports/read-cells'
import type { Import } from '@dystracer/core/imports/wire'
import {
  ADD,
  INVITE,
  type ImportMapping,
  type ImportProblem,
  type ImportValues,
  type ImportWorld,
  type PlannedItem,
  type RenewedField,
} from '@dystracer/core/imports/import-fields'
import { ImportPlanner } from '@dystracer/core/imports/import-plan'
import { sql } from '#platform/db/statements'
import { entryByIdempotencyKey } from '#platform/journal/journal.queries'
import type { JournalWriter } from '#platform/journal/journal'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { logWithin } from '#subjects/items/index'
import { invitePerson } from '#subjects/people/index'
import { addComponent, readSetup, requireProject } from '#subjects/setup/index'
import { attach, bringAlong, dateItems, type Fresh, makeTie, type Tie } from './bring-along.js'
import { renew } from './renew.js'
import { LIST_COMPONENT, LIST_PERSON } from './imports.queries.js'
import { readRows, type Row, takeFile } from './read-rows.js'

const SAMPLE_ROWS = 5
const PROBLEMS_KEPT = 500
const DAYS_LOOKED_AT = 5000
/** So many rows are written at a time; the number follows what a write takes, so that everybody else is served between two of them. */
const BATCH = { first: 50, least: 25, most: 400, aimMs: 60 } as const
const CELL_MAX = 200
const IMPORTS_KEPT = 20

interface Job {
  state: Import
  project: string
  by: string
  path: string
  isCancelled: boolean
}

/** Imports of this run of the server, newest last; a file that was not imported goes with it. */
const jobsOf = new WeakMap<ServiceContext['db'], Map<string, Job>>()

function jobs(ctx: Pick<ServiceContext, 'db'>): Map<string, Job> {
  const known = jobsOf.get(ctx.db) ?? new Map<string, Job>()
  jobsOf.set(ctx.db, known)
  return known
}

/** The project that an import goes into; empty for one that this run of the server does not know, so that nobody has a right to it. */
export function projectOfImport(ctx: Pick<ServiceContext, 'db'>, importId: string): string {
  return jobs(ctx).get(importId)?.project ?? ''
}

/**
 * Takes a file in: CSV with any of the usual separators, JSON Lines or a JSON list. Gives its columns with
 * a guess of what each is, and its first rows. Nothing is logged yet.
 */
export async function beginImport(ctx: ServiceContext, who: Who, project: string, file: { name: string; bytes: Buffer }): Promise<Import> {
  requireProject(ctx.db, project)
  const importId = ctx.newId()
  const dir = join(ctx.config.dataDir, 'imports')
  mkdirSync(dir, { recursive: true })
  const path = join(dir, importId)
  const { text, format, encoding } = takeFile(file.bytes)
  writeFileSync(path, text)
  const sample: Row[] = []
  const columns: string[] = []
  let rows = 0
  try {
    let bad: ImportProblem | undefined
    for await (const { cells, problems } of readRows(path, format)) {
      rows++
      if (cells === null) bad ??= problems[0]
      else if (sample.length < SAMPLE_ROWS) sample.push(cells)
      if (rows <= 1000)
        for (const column of Object.keys(cells ?? {})) if (!columns.includes(column) && columns.length < 200) columns.push(column)
    }
    if (bad && sample.length === 0)
      throw new Problem('malformed-body', { detail: `No row can be read; row ${bad.row} holds “${bad.value}”. Nothing was kept.` })
    if (rows === 0) throw new Problem('invalid-input', { detail: 'There is no row below the head line. Nothing was kept.' })
  } catch (error) {
    rmSync(path, { force: true })
    throw error
  }
  const state: Import = {
    importId,
    name: file.name.slice(0, 200),
    format,
    encoding,
    phase: 'read',
    columns,
    sample: sample.map((row) => Object.fromEntries(columns.map((column) => [column, shown(row[column])]))),
    mapping: guessMapping(columns, readSetup(ctx.db, project).ownFields),
    values: {},
    seen: [],
    rows,
    fresh: 0,
    known: 0,
    leftOut: 0,
    linked: 0,
    changes: [],
    changeCounts: {},
    attached: 0,
    renewed: 0,
    doneRows: 0,
    totalRows: rows,
    problems: [],
    problemCount: 0,
    why: null,
  }
  const all = jobs(ctx)
  all.set(importId, { state, project, by: who.actor, path, isCancelled: false })
  for (const [id, job] of [...all].slice(0, Math.max(0, all.size - IMPORTS_KEPT))) {
    rmSync(job.path, { force: true })
    all.delete(id)
  }
  return state
}

/** A cell as it is shown: lists and objects as JSON. */
function shown(cell: unknown): string {
  return String(typeof cell === 'object' && cell !== null ? JSON.stringify(cell) : (cell ?? '')).slice(0, CELL_MAX)
}

function requireJob(ctx: ServiceContext, who: Who, importId: string): Job {
  const job = jobs(ctx).get(importId)
  if (!job || job.by !== who.actor) throw new Problem('not-found', { detail: 'This import is not there any more. Choose the file again.' })
  return job
}

export function readImport(ctx: ServiceContext, who: Who, importId: string): Import {
  return requireJob(ctx, who, importId).state
}

/** Stops what an import is doing; what it has logged stays, and a later run goes on from there. */
export function cancelImport(ctx: ServiceContext, who: Who, importId: string): Import {
  const job = requireJob(ctx, who, importId)
  job.isCancelled = true
  return job.state
}

/**
 * Tries an import (nothing is logged; every problem is listed by row) or runs it, behind the answer. Running it again logs nothing twice.
 */
export function runImport(
  ctx: ServiceContext,
  who: Who,
  importId: string,
  input: { mapping: ImportMapping; values: ImportValues; takes: readonly RenewedField[]; isTrial: boolean },
): Import {
  const job = requireJob(ctx, who, importId)
  if (job.state.phase === 'trying' || job.state.phase === 'running')
    throw new Problem('conflict', { detail: 'This import is under way already.' })
  if (!Object.values(input.mapping).some((field) => field === 'title' || field === 'description'))
    throw new Problem('invalid-input', { fields: { mapping: 'Say which column holds the title' } })
  job.isCancelled = false
  Object.assign(job.state, {
    mapping: input.mapping,
    values: input.values,
    seen: [],
    phase: input.isTrial ? 'trying' : 'running',
    fresh: 0,
    known: 0,
    leftOut: 0,
    linked: 0,
    changes: [],
    changeCounts: {},
    attached: 0,
    renewed: 0,
    doneRows: 0,
    problems: [],
    problemCount: 0,
    why: null,
  } satisfies Partial<Import>)
  ctx.background.add(
    walk(ctx, who, job, input).then(
      () => {
        job.state.phase = job.isCancelled ? 'cancelled' : input.isTrial ? 'tried' : 'done'
      },
      (error: unknown) => {
        job.state.phase = 'failed'
        job.state.why = error instanceof Problem ? error.message : 'Something went wrong on the server. What was imported before stays.'
        if (!(error instanceof Problem)) ctx.log.error({ err: error }, 'an import failed')
      },
    ),
    'an import',
  )
  return job.state
}

async function walk(
  ctx: ServiceContext,
  who: Who,
  job: Job,
  { takes, isTrial }: { takes: readonly RenewedField[]; isTrial: boolean },
): Promise<void> {
  const { state } = job
  if (!isTrial) bringIn(ctx, who, job)
  const planner = new ImportPlanner({
    mapping: state.mapping,
    world: worldOf(ctx, job.project),
    days: await readDays(job),
    values: state.values,
    isMarkdown: isOwnExport(state.columns),
  })
  const keyById = new Map<string, string>()
  const ties: Tie[] = []
  const fresh: Fresh[] = []
  let batch: PlannedItem[] = []
  const note = (problems: readonly ImportProblem[]) => {
    state.problemCount += problems.length
    state.problems.push(...problems.slice(0, PROBLEMS_KEPT - state.problems.length))
  }
  let size: number = BATCH.first
  /** One write, after which people who wait for an answer come first. */
  const inTurn = async (write: () => void) => {
    const startedMs = performance.now()
    write()
    const tookMs = performance.now() - startedMs
    if (tookMs > BATCH.aimMs * 2) size = Math.max(BATCH.least, Math.floor(size / 2))
    else if (tookMs < BATCH.aimMs) size = Math.min(BATCH.most, size * 2)
    await new Promise((resolve) => setImmediate(resolve))
  }
  const flush = async () => {
    const taken = batch
    batch = []
    if (taken.length > 0) await inTurn(() => logBatch(ctx, who, job, taken, { isTrial, keyById, ties, fresh, note, takes }))
  }
  for await (const { number, cells, problems: found } of readRows(job.path, state.format)) {
    if (job.isCancelled) return
    const { planned, problems } = cells === null ? { planned: null, problems: [] } : planner.plan(cells, number)
    note([...found, ...problems])
    if (planned) batch.push(planned)
    else state.leftOut++
    state.doneRows++
    if (batch.length >= size) await flush()
  }
  await flush()
  state.seen = planner.valuesSeen()
  // What a row hangs on may stand below it, here already, or nowhere.
  while (ties.length > 0 && !job.isCancelled) {
    const taken = ties.splice(0, size)
    await inTurn(() => tieRows(ctx, who, taken, { job, keyById, isTrial, note }))
  }
  const column = Object.entries(state.mapping).find(([, field]) => field === 'attachments')?.[0] ?? null
  for (const item of fresh) {
    if (job.isCancelled) return
    state.attached += await attach(ctx, who, item, { isTrial, column, note })
  }
  // Last of all: whatever else is written of an item would make it changed today.
  const dated = isTrial ? [] : fresh.filter(({ updatedAtMs }) => updatedAtMs !== null)
  while (dated.length > 0 && !job.isCancelled) {
    const taken = dated.splice(0, size)
    await inTurn(() => ctx.journal.write((writer) => dateItems(writer, who, taken)))
  }
}

/** Invites the people and adds the components that the file names and that were asked for; what they become is known from then on. */
function bringIn(ctx: ServiceContext, who: Who, { state, project }: Job): void {
  const owners = { ...state.values.owner }
  for (const [text, becomes] of Object.entries(owners)) {
    const address = becomes === INVITE ? addressIn(text) : null
    if (becomes === INVITE) owners[text] = address === null ? '' : invitePerson(ctx, who, { ...address, project, role: 'member' }).personId
  }
  const components = { ...state.values.component }
  for (const [text, becomes] of Object.entries(components))
    if (becomes === ADD) {
      addComponent(ctx, who, project, { name: text.slice(0, 100) })
      components[text] = text.slice(0, 100)
    }
  state.values = { ...state.values, owner: owners, component: components }
}

interface Pass {
  isTrial: boolean
  keyById: Map<string, string>
  note: (problems: readonly ImportProblem[]) => void
}

function logBatch(
  ctx: ServiceContext,
  who: Who,
  job: Job,
  batch: readonly PlannedItem[],
  pass: Pass & { ties: Tie[]; fresh: Fresh[]; takes: readonly RenewedField[] },
): void {
  const { state, project } = job
  const take = (writer: JournalWriter | null) => {
    for (const planned of batch) {
      const { row, id, parentId, item, createdAtMs, reporterName } = planned
      // Without an id of its own a row is known again by what it says.
      const idempotencyKey =
        id ?? `row ${createHash('sha256').update(`${item.title}\n${item.description}`).digest('base64url').slice(0, 32)}`
      const before = entryByIdempotencyKey(ctx.db, `import/${project}/${idempotencyKey}`)
      let key = before ? (before.body as { key: string }).key : `row ${row}`
      if (before) {
        state.known++
        renew(ctx, writer, who, { key, planned, state, takes: pass.takes, note: pass.note })
      } else if (writer) {
        try {
          key = logWithin(
            ctx,
            writer,
            who,
            { ...item, project },
            {
              idempotencyKey,
              cause: 'import',
              reporterId: planned.reporterId ?? (reporterName === null ? who.personId : null),
              cameFrom: reporterName ?? undefined,
              atMs: createdAtMs ?? undefined,
            },
          ).key
          bringAlong(ctx, writer, who, key, planned)
        } catch (error) {
          if (!(error instanceof Problem)) throw error
          pass.note([
            { row, column: null, code: 'refused', value: [error.message, ...Object.values(error.fields ?? {})].join(' ').slice(0, 200) },
          ])
          state.leftOut++
          continue
        }
        state.fresh++
        pass.fresh.push({ row, key, updatedAtMs: planned.updatedAtMs, attachments: planned.attachments })
      } else {
        state.fresh++
        pass.fresh.push({ row, key, updatedAtMs: null, attachments: planned.attachments })
      }
      if (id !== null) pass.keyById.set(id, key)
      if (parentId !== null) pass.ties.push({ row, key, kind: 'parent', to: parentId })
      for (const { kind, to } of planned.ties) pass.ties.push({ row, key, kind, to })
    }
  }
  if (pass.isTrial) take(null)
  else ctx.journal.write((writer) => take(writer))
}

function tieRows(ctx: ServiceContext, who: Who, ties: readonly Tie[], pass: Pass & { job: Job }): void {
  const { job, keyById, isTrial, note } = pass
  const columnOf = (field: string) => Object.entries(job.state.mapping).find(([, mapped]) => mapped === field)?.[0] ?? null
  const take = (writer: JournalWriter | null) => {
    for (const tie of ties) if (makeTie(ctx, writer, who, tie, { keyById, column: columnOf(tie.kind), note })) job.state.linked++
  }
  if (isTrial) take(null)
  else ctx.journal.write((writer) => take(writer))
}

/** Cells of the columns of days, to see in which order day and month stand. */
async function readDays(job: Job): Promise<string[]> {
  const columns = Object.entries(job.state.mapping).flatMap(([column, field]) => (field === 'due' || field === 'created' ? [column] : []))
  const days: string[] = []
  if (columns.length === 0) return days
  for await (const { cells } of readRows(job.path, job.state.format)) {
    for (const column of columns) if (cells?.[column]) days.push(String(cells[column]))
    if (days.length >= DAYS_LOOKED_AT) break
  }
  return days
}

function worldOf(ctx: ServiceContext, project: string): ImportWorld {
  const people = new Map<string, string>()
  for (const { person_id: personId, name, email } of sql(ctx.db, LIST_PERSON).all<{
    person_id: string
    name: string
    email: string
  }>({}))
    for (const word of [personId, name, email]) people.set(word.toLowerCase(), personId)
  const { types, ownFields } = readSetup(ctx.db, project)
  return {
    types: types.map((type) => type.type),
    ownFields,
    components: sql(ctx.db, LIST_COMPONENT)
      .all<{ name: string }>({})
      .map((row) => row.name),
    personOf: (text) => {
      const address = /<([^>]+)>/.exec(text)?.[1] ?? text
      return people.get(address.trim().toLowerCase()) ?? people.get(text.trim().toLowerCase()) ?? null
    },
    toText: (html) => convert(html, { wordwrap: false, limits: { maxInputLength: 200_000 } }),
    nowMs: ctx.nowMs(),
  }
}
