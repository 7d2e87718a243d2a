import type { Who } from '@dystracer/core/people/who'
import {
  mergeCells,
  type Matrix,
  type MatrixCell,
  type MatrixColumn,
  type MatrixHead,
  type MatrixRow,
} from '@dystracer/core/threads/matrix'
import { printedPage } from '@dystracer/core/text/printed-page'
import { element } from '@dystracer/core/text/xml-tree'
import { asCsv } from '#platform/csv'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { graphOf } from '#subjects/code/index'
import { maySee } from '#subjects/records/index'
import { listTexts, verifyingTests } from '#subjects/requirements/index'
import { LIST_FIX_OF_ITEMS, LIST_RELEASE_OF_SERVICE, LIST_SERVICE_OF_PROJECT, LIST_TIED_ITEM } from './matrix.queries.js'

interface TiedItem {
  row: string
  key: string
  kind: string
  linkId: string
  isSuspect: number | null
  title: string
  stage: string
  isOpen: number
  component: string | null
}
const DONE = new Set(['released', 'verified'])
/** What stands for a cell where there are only letters. */
const MARK: Record<MatrixCell['state'], string> = { holds: 'x', said: 'o', look: '?', broken: '!' }

/** The requirements of a project against something; items that the asker may not see make no cell. */
export function readMatrix(ctx: ServiceContext, who: Who, { project, columns }: { project: string; columns: MatrixColumn }): Matrix {
  const rows = rowsOf(ctx, who, project)
  if (columns === 'test') return testMatrix(ctx, rows)
  const tied = sql(ctx.db, LIST_TIED_ITEM)
    .all<TiedItem>({ keys: JSON.stringify(rows.map(({ key }) => key)) })
    .filter(({ key }) => maySee(ctx.db, who, key))
  if (columns === 'item') return itemMatrix(rows, tied)
  if (columns === 'component') return componentMatrix(rows, tied)
  return releaseMatrix(ctx, { project, rows, tied })
}

function rowsOf(ctx: ServiceContext, who: Who, project: string): MatrixRow[] {
  return listTexts(ctx, who, project)
    .filter(({ isRetired }) => !isRetired)
    .map(({ key, title, parent, isHeading }) => ({ key, title, parent, isHeading }))
}

function stateOf({ kind, isSuspect, isOpen, stage }: TiedItem): Pick<MatrixCell, 'state' | 'words'> {
  if (kind === 'breaks')
    return isOpen === 1 ? { state: 'broken', words: 'breaks it' } : { state: 'holds', words: 'broke it, and is settled' }
  if (isSuspect === 1) return { state: 'look', words: 'tied to an older text' }
  return DONE.has(stage) ? { state: 'holds', words: stage } : { state: 'said', words: stage }
}

function itemMatrix(rows: MatrixRow[], tied: readonly TiedItem[]): Matrix {
  const columns = new Map(tied.map(({ key, title }) => [key, { id: key, title }]))
  return {
    rows,
    columns: [...columns.values()],
    cells: mergeCells(tied.map((one) => ({ row: one.row, column: one.key, linkId: one.linkId, ...stateOf(one) }))),
  }
}

function componentMatrix(rows: MatrixRow[], tied: readonly TiedItem[]): Matrix {
  const named = tied.map((one) => ({ ...one, component: one.component ?? 'no component' }))
  const columns = [...new Set(named.map(({ component }) => component))].sort().map((id) => ({ id, title: id }))
  const cells = named.map((one): MatrixCell => {
    const { state, words } = stateOf(one)
    return { row: one.row, column: one.component, state, words: `${one.key} ${words}`, linkId: null }
  })
  return { rows, columns, cells: mergeCells(cells) }
}

function testMatrix(ctx: ServiceContext, rows: MatrixRow[]): Matrix {
  const tests = verifyingTests(ctx)
  const columns = new Map<string, MatrixHead>()
  const cells = rows.flatMap(({ key }) =>
    (tests.get(key) ?? []).map((test): MatrixCell => {
      const id = `${test.repository}/${test.name}`
      columns.set(id, { id, title: test.name })
      const state = test.outcome === 'passed' ? 'holds' : test.outcome === 'failed' ? 'broken' : 'look'
      return { row: key, column: id, state, words: `${test.outcome} in build ${test.build}`, linkId: null }
    }),
  )
  return { rows, columns: [...columns.values()].sort((a, b) => (a.title < b.title ? -1 : 1)), cells: mergeCells(cells) }
}

/**
 * A release holds a requirement's work where a commit that fixes one of its items is reachable from
 * it; of the newest releases of each service.
 */
function releaseMatrix(
  ctx: ServiceContext,
  { project, rows, tied }: { project: string; rows: MatrixRow[]; tied: readonly TiedItem[] },
): Matrix {
  const fixes = sql(ctx.db, LIST_FIX_OF_ITEMS).all<{ key: string; id: string }>({
    keys: JSON.stringify([...new Set(tied.map(({ key }) => key))]),
  })
  const columns: MatrixHead[] = []
  const cells: MatrixCell[] = []
  for (const { name: service, repository } of sql(ctx.db, LIST_SERVICE_OF_PROJECT).all<{ name: string; repository: string }>({ project })) {
    const graph = graphOf(ctx, repository)
    const own = fixes.flatMap(({ key, id }) => (id.startsWith(`${repository}/`) ? [{ key, sha: id.slice(repository.length + 1) }] : []))
    for (const { name, sha } of sql(ctx.db, LIST_RELEASE_OF_SERVICE).all<{ name: string; sha: string }>({ service })) {
      const column = `${service}@${name}`
      columns.push({ id: column, title: column })
      const held = new Set(own.filter((fix) => graph.isReachable(fix.sha, sha)).map(({ key }) => key))
      for (const { row, key, kind } of tied)
        if (held.has(key) && kind !== 'breaks') cells.push({ row, column, state: 'holds', words: `holds ${key}`, linkId: null })
    }
  }
  return { rows, columns, cells: mergeCells(cells) }
}

/** The matrix as CSV: x holds, o is said, ? has to be looked at, ! is broken. */
export function matrixAsCsv(matrix: Matrix): string {
  const byRow = cellsByRow(matrix)
  return asCsv(
    ['key', 'title', ...matrix.columns.map(({ id }) => id)],
    matrix.rows.map(({ key, title }) => ({
      key,
      title,
      ...Object.fromEntries(matrix.columns.map(({ id }) => [id, markOf(byRow.get(key)?.get(id))])),
    })),
  )
}

function cellsByRow({ cells }: Matrix): Map<string, Map<string, MatrixCell>> {
  const byRow = new Map<string, Map<string, MatrixCell>>()
  for (const cell of cells) {
    const row = byRow.get(cell.row) ?? new Map<string, MatrixCell>()
    byRow.set(cell.row, row.set(cell.column, cell))
  }
  return byRow
}

function markOf(cell: MatrixCell | undefined): string {
  return cell ? MARK[cell.state] : ''
}

const STYLE =
  `body{font:10pt system-ui,sans-serif;color:#1e2421}table{border-collapse:collapse}th,td{border:1px solid ` +
  `#ded8ca;padding:2px 5px;text-align:left}
thead th{writing-mode:vertical-rl;font-weight:400;vertical-align:bottom}td.holds{color:#1e6e62}td.broken{color:#a93e19}` +
  `td.look{color:#8a630b}td{text-align:center}@page{size:landscape;margin:12mm}`

/** The matrix as a page that prints. */
export function matrixAsHtml(project: string, matrix: Matrix): string {
  const byRow = cellsByRow(matrix)
  const head = element('tr', {}, [element('th', {}, ['']), ...matrix.columns.map(({ id, title }) => element('th', { title }, [id]))])
  const body = matrix.rows.map(({ key, title, isHeading }) =>
    element('tr', {}, [
      element('th', { scope: 'row' }, [isHeading ? element('b', {}, [`${key} ${title}`]) : `${key} ${title}`]),
      ...matrix.columns.map(({ id }) => {
        const cell = byRow.get(key)?.get(id)
        return element('td', cell ? { class: cell.state, title: cell.words } : {}, [markOf(cell)])
      }),
    ]),
  )
  return printedPage({
    title: `Matrix of ${project}`,
    style: STYLE,
    body: [
      element('p', {}, ['x holds, o is said and not done, ? has to be looked at again, ! is broken']),
      element('table', {}, [element('thead', {}, [head]), element('tbody', {}, body)]),
    ],
  })
}
