import { afterAll, expect, test } from '@jest/globals'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
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
  const rows = await rowsOf(`T\n${'a\n\n'.repeat(150_000)}`)
  expect(rows).toHaveLength(150_000)
  expect(rows.at(-1)).toEqual({ number: 300_000, cells: { T: 'a' } })
})

test('a quotation mark inside a cell, a comma inside quotation marks and line breaks in a cell are part of it', async () => {
  expect(await rowsOf('Title,Note\nLid 3" wide,"a, b"\n"two\nlines","he said ""no"""\n')).toEqual([
    { number: 2, cells: { Title: 'Lid 3" wide', Note: 'a, b' } },
    { number: 3, cells: { Title: 'two\nlines', Note: 'he said "no"' } },
  ])
})
