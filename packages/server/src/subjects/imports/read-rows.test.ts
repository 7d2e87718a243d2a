import { afterAll, expect, test } from '@jest/globals'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { readHeadedRows } from '#platform/csv'
import { readRows, takeFile } from './read-rows.js'

const folder = mkdtempSync(join(tmpdir(), 'dystracer-rows-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

async function rowsOf(text: string) {
  const taken = takeFile(Buffer.from(text))
  const file = join(folder, 'list')
  writeFileSync(file, taken.text)
  const rows: { number: number; cells: unknown }[] = []
  for await (const { number, cells } of readRows(file, taken.format)) rows.push({ number, cells })
  return rows
}

test('hundreds of thousands of short and empty rows take no longer each than the first ones', async () => {
  // Split anew for each row, a piece of 64 KB of them took twenty seconds; the whole would run into the time limit.
  const rows = await rowsOf(`T\n${'a\n\n'.repeat(100_000)}`)
  expect(rows).toHaveLength(100_000)
  expect(rows.at(-1)).toEqual({ number: 200_000, cells: { T: 'a' } })
}, 60_000)

test('a quotation mark inside a cell, a comma inside quotation marks and line breaks in a cell are part of it', async () => {
  expect(await rowsOf('Title,Note\nLid 3" wide,"a, b"\n"two\nlines","he said ""no"""\n')).toEqual([
    { number: 2, cells: { Title: 'Lid 3" wide', Note: 'a, b' } },
    { number: 3, cells: { Title: 'two\nlines', Note: 'he said "no"' } },
  ])
})

test('tens of thousands of columns take no longer each than the first ones, and each has a name of its own', async () => {
  const [row] = await rowsOf(`T,a,a (3),a${',a'.repeat(60_000)}\n1,2,3,4\n`)
  const cells = row?.cells as Record<string, string>
  expect(Object.keys(cells)).toHaveLength(60_004)
  expect(cells).toMatchObject({ T: '1', a: '2', 'a (3)': '3', 'a (4)': '4' })
})

test('of columns with one name in a table with headings, each keeps what it holds', () => {
  const { rows, headings, renamed } = readHeadedRows(`a,a,a (2)${',a'.repeat(20_000)}\n1,2,3,4\n`)
  expect(new Set(headings).size).toBe(20_003)
  expect(rows[0]).toMatchObject({ a: '1', 'a (2)': '2', 'a (2) (2)': '3', 'a (3)': '4' })
  expect(renamed).toHaveLength(20_002)
})
