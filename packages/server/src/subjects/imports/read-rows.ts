import { createReadStream } from 'node:fs'
import { createInterface } from 'node:readline'
import papaparse from 'papaparse'
import { Problem } from '@dystracer/core/basics/problem'
import { rowOfUnclosedQuote } from '@dystracer/core/imports/csv-quotes'
import type { ImportProblem } from '@dystracer/core/imports/import-fields'
import type { Import } from '@dystracer/core/imports/wire'
import { decodeText } from '@dystracer/core/text/decode-text'
import { undefused } from '#platform/csv'

export type Row = Record<string, unknown>
/** A row of a file by its number as people count them, or why there is none. */
export interface ReadRow {
  number: number
  cells: Row | null
  problems: ImportProblem[]
}

/** A file as it will be read: its text, its format, and how it was encoded. */
export interface TakenFile {
  text: string
  format: Import['format']
  encoding: string
}

/**
 * Takes a file of a table, in UTF-8, UTF-16 or Windows-1252 (which old programs write), as CSV, JSON Lines or one JSON list. Throws
 * `malformed-body` for what is no text, and for what would be half taken: a quotation mark that is never closed, a list that is none.
 */
export function takeFile(bytes: Buffer): TakenFile {
  const decoded = decodeText(bytes)
  // What is no UTF-8 has no other mark: Windows-1252 has a letter for nearly every byte, and is said.
  const read = decoded.ok ? decoded : decodeText(bytes, 'windows-1252')
  if (!read.ok) throw new Problem('malformed-body', { detail: `The file cannot be read: ${read.why}. Nothing was kept.` })
  const text = read.text.replace(/^\uFEFF/, '')
  // Every text of a table has lines without it; the files of programs, such as a spreadsheet's own, are full of it.
  if (text.includes('\0'))
    throw new Problem('malformed-body', {
      detail: 'This is no text, but a file of some program. Save the table there as CSV, and choose that file; nothing was kept.',
    })
  const { encoding } = read
  if (/^\s*\[/.test(text)) return { text: linesOfList(text), format: 'jsonl', encoding }
  if (/^\s*\{/.test(text)) return { text, format: 'jsonl', encoding }
  const { delimiter } = papaparse.parse(text.slice(0, 100_000), { preview: 20 }).meta
  const row = rowOfUnclosedQuote(text, delimiter)
  if (row !== null)
    throw new Problem('malformed-body', {
      detail:
        `In row ${row} a quotation mark is opened and never closed: the rest of the file would be one cell. Close ` +
        `it, and choose the file again; nothing was kept.`,
    })
  return { text, format: 'csv', encoding }
}

/** A JSON list of objects as lines; each is then read as any other. */
function linesOfList(text: string): string {
  try {
    const list: unknown = JSON.parse(text)
    if (Array.isArray(list)) return list.map((value) => JSON.stringify(value)).join('\n')
  } catch (error) {
    throw new Problem('malformed-body', {
      detail: `The file begins as a JSON list and is none: ${error instanceof Error ? error.message : 'unreadable'}. Nothing was kept.`,
      cause: error,
    })
  }
  throw new Problem('malformed-body', { detail: 'The file begins as a JSON list and is none. Nothing was kept.' })
}

/** Rows of a file one after the other; a file of any length needs no more memory than a few of them. */
export function readRows(path: string, format: Import['format']): AsyncGenerator<ReadRow> {
  return format === 'csv' ? readTable(path) : readLines(path)
}

/** Rows of a table, the heading being row 1; a row with more cells than the heading is left out, one with fewer is taken and named. */
async function* readTable(path: string): AsyncGenerator<ReadRow> {
  const parser = papaparse.parse(papaparse.NODE_STREAM_INPUT, { header: false, skipEmptyLines: false, fastMode: false })
  const source = createReadStream(path, 'utf8')
  source.on('error', (error) => parser.destroy(error))
  let columns: string[] | null = null
  let number = 0
  for await (const cells of source.pipe(parser) as AsyncIterable<string[]>) {
    number++
    if (cells.every((cell) => cell.trim() === '')) continue
    if (columns === null) {
      columns = namesOf(cells)
      continue
    }
    const problem = (code: ImportProblem['code'], value: string): ImportProblem => ({ row: number, column: null, code, value })
    const most = columns.length
    if (cells.slice(most).some((cell) => cell.trim() !== '')) {
      yield { number, cells: null, problems: [problem('too-many-cells', `${cells.length} of ${most}`)] }
      continue
    }
    const problems = cells.length < most ? [problem('too-few-cells', `${cells.length} of ${most}`)] : []
    yield { number, cells: Object.fromEntries(columns.map((column, at) => [column, undefused(cells[at] ?? '')])), problems }
  }
}

/** Headings as names, each once. */
function namesOf(cells: readonly string[]): string[] {
  const taken = new Set<string>()
  return cells.map((cell, at) => {
    let name = cell.trim().slice(0, 200) || `column ${at + 1}`
    while (taken.has(name)) name = `${name} (${at + 1})`
    taken.add(name)
    return name
  })
}

/** Rows of JSON Lines by their lines; a line that is no object is left out and named. */
async function* readLines(path: string): AsyncGenerator<ReadRow> {
  let number = 0
  for await (const line of createInterface({ input: createReadStream(path, 'utf8'), crlfDelay: Number.POSITIVE_INFINITY })) {
    number++
    if (line.trim() === '') continue
    const value = objectIn(line)
    yield value === null
      ? { number, cells: null, problems: [{ row: number, column: null, code: 'not-json', value: line.slice(0, 100) }] }
      : { number, cells: value, problems: [] }
  }
}

function objectIn(line: string): Row | null {
  try {
    const value: unknown = JSON.parse(line)
    return typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Row) : null
  } catch (error) {
    if (error instanceof SyntaxError) return null
    throw error
  }
}
