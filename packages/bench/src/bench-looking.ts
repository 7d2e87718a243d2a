import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { performance } from 'node:perf_hooks'
import { parseFilter } from '@dystracer/core/filter/parse-filter'
import type { Who } from '@dystracer/core/people/who'
import { countItems, listItems } from '@dystracer/server/subjects/looking/looking.views'
import type { ServiceContext } from '@dystracer/server/platform/context'
import { sql } from '@dystracer/server/platform/db/statements'
import { makeRandom } from './bench-world.js'

type Figures = Record<string, number>
const TURNS = 7
const WORDS = 24
const NARROW = 'i.key, i.title, i.severity, i.owner_id, i.component, i.milestone, i.stair, i.labels, i.due_on, i.updated_at_ms'
const HOLDS = `i.key IN (SELECT r.key FROM item_search s JOIN item_search_row r ON r.rowid = s.rowid WHERE item_search MATCH @match
  UNION SELECT r.key FROM comment_search s JOIN item_search_row r ON r.rowid = s.rowid >> 20 WHERE comment_search MATCH @match)`

/** A question as a person types it, and what somebody would write in SQL for it by hand. */
interface Question {
  filter: string
  bare: string
  bind?: Record<string, string | number>
}

function questionsOf(nowMs: number): Question[] {
  const day = (days: number) => new Date(nowMs + days * 86_400_000).toISOString().slice(0, 10)
  const age = (days: number) => nowMs - days * 86_400_000
  return [
    { filter: '', bare: '1' },
    { filter: 'open', bare: 'i.is_open = 1' },
    { filter: 'settled story', bare: `i.is_open = 0 AND i.type = 'story'` },
    { filter: 'mine', bare: `i.owner_id = 'ines'` },
    { filter: 'open owner=rafe severity<=2', bare: `i.is_open = 1 AND i.owner_id = 'rafe' AND i.severity <= 2` },
    { filter: 'open defect severity<=2', bare: `i.is_open = 1 AND i.type = 'defect' AND i.severity <= 2` },
    { filter: 'open owner=me milestone=4.2', bare: `i.is_open = 1 AND i.owner_id = 'ines' AND i.milestone = '4.2'` },
    { filter: 'unowned milestone=5.0', bare: `i.owner_id IS NULL AND i.milestone = '5.0'` },
    { filter: 'overdue', bare: 'i.is_open = 1 AND i.due_on < @day', bind: { day: day(0) } },
    { filter: `due>=${day(-6)} due<${day(8)}`, bare: 'i.due_on >= @from AND i.due_on < @to', bind: { from: day(-6), to: day(8) } },
    { filter: 'label=safety open', bare: `i.is_open = 1 AND EXISTS (SELECT 1 FROM json_each(i.labels) WHERE value = 'safety')` },
    { filter: 'component="Glaze lab" severity=1', bare: `i.component = 'Glaze lab' AND i.severity = 1` },
    { filter: 'updated<7d', bare: 'i.updated_at_ms > @since', bind: { since: age(7) } },
    { filter: 'created<7d unowned', bare: 'i.created_at_ms > @since AND i.owner_id IS NULL', bind: { since: age(7) } },
    { filter: 'logged', bare: 'i.stage_rank = 0' },
    { filter: '(owner=rafe or owner=tam) task', bare: `i.owner_id IN ('rafe', 'tam') AND i.type = 'task'` },
    { filter: 'not open component=Billing', bare: `i.is_open = 0 AND i.component = 'Billing'` },
    { filter: 'drift', bare: 'i.has_drift = 1' },
    { filter: 'back open', bare: 'i.has_come_back = 1 AND i.is_open = 1' },
    { filter: 'key=EMB-77', bare: `i.key = 'EMB-77'` },
    { filter: 'followed', bare: `i.key IN (SELECT item_key FROM follower WHERE person_id = 'ines')` },
    {
      filter: 'requirement=SAF-3',
      bare: `i.key IN (SELECT from_id FROM link_assertion WHERE to_kind = 'requirement' AND to_id = 'SAF-3')`,
    },
    { filter: 'sprint=2026-24', bare: `i.sprint = '2026-24'` },
    {
      filter: 'milestone=4.1 severity<=3 updated<30d',
      bare: `i.milestone = '4.1' AND i.severity <= 3 AND i.updated_at_ms > @since`,
      bind: { since: age(30) },
    },
  ]
}

/** Words as people look for them: neither the most common ones nor those that stand nowhere. */
function wordsOf(): Question[] {
  const words = readFileSync(join(import.meta.dirname, '../../server/data/words.txt'), 'utf8').split('\n')
  const random = makeRandom(23)
  return Array.from({ length: WORDS }, (_, at) => {
    const word = words[Math.floor(800 * Math.exp(random() * Math.log(20)))] ?? 'kiln'
    const isWithFilter = at % 3 === 0
    return {
      filter: isWithFilter ? `open defect ${word}` : word,
      bare: `${isWithFilter ? `i.is_open = 1 AND i.type = 'defect' AND ` : ''}${HOLDS}`,
      bind: { match: `"${word}"*` },
    }
  })
}

/**
 * The first page of each question (docs/rules.md#first-page), beside bare SQL for the same rows by the same indices in the same run; and
 * the counts, which follow. Median of seven turns each, then over the questions.
 */
export function benchLooking(ctx: ServiceContext): Figures {
  const who: Who = {
    actor: 'person:ines',
    personId: 'ines',
    roles: {},
    everywhere: 'lead',
    limits: null,
    via: 'session',
    scope: null,
    csrfToken: null,
    provenAtMs: null,
  }
  const rows: { filter: string; oursMs: number; bareMs: number }[] = []
  for (const { filter, bare, bind = {} } of [...questionsOf(ctx.nowMs()), ...wordsOf()]) {
    if ('error' in parseFilter(filter)) throw new Error(`${filter} is no filter`)
    const text = `SELECT ${NARROW} FROM item i WHERE ${bare} AND i.is_archived = 0
      ORDER BY coalesce(i.severity, 9), -i.created_at_ms, i.key LIMIT 101`
    rows.push({
      filter,
      oursMs: medianOf(() => listItems(ctx, who, { filter, sort: 'worst', limit: 100, withTotal: false })),
      bareMs: medianOf(() => sql(ctx.db, text).all(bind)),
    })
  }
  const counts = ['', 'open', 'open defect severity<=2'].map((filter) => medianOf(() => countItems(ctx, who, { filter })))
  const grouped = medianOf(() => listItems(ctx, who, { filter: 'open', sort: 'worst', groupBy: 'component', limit: 100, withTotal: false }))
  const slowest = [...rows].sort((a, b) => b.oursMs - a.oursMs).slice(0, 5)
  console.error(
    slowest.map((row) => `  ${row.filter || '(all)'}: ${row.oursMs.toFixed(1)} ms, bare ${row.bareMs.toFixed(1)} ms`).join('\n'),
  )
  const sum = (pick: (row: (typeof rows)[number]) => number) => rows.reduce((total, row) => total + pick(row), 0)
  return {
    questions: rows.length,
    firstPageMedianMs: at(
      rows.map((row) => row.oursMs),
      0.5,
    ),
    firstPageP95Ms: at(
      rows.map((row) => row.oursMs),
      0.95,
    ),
    bareFirstPageMedianMs: at(
      rows.map((row) => row.bareMs),
      0.5,
    ),
    bareFirstPageP95Ms: at(
      rows.map((row) => row.bareMs),
      0.95,
    ),
    timesBareInAll: Number((sum((row) => row.oursMs) / sum((row) => row.bareMs)).toFixed(2)),
    countMs: at(counts, 0.99),
    groupedPageMs: Number(grouped.toFixed(1)),
  }
}

function medianOf(act: () => unknown): number {
  const tookMs = Array.from({ length: TURNS }, () => {
    const startedMs = performance.now()
    act()
    return performance.now() - startedMs
  }).sort((a, b) => a - b)
  return tookMs[Math.floor(TURNS / 2)] ?? 0
}

function at(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b)
  return Number((sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? 0).toFixed(1))
}
