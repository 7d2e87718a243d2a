import { describe, expect, test } from '@jest/globals'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { PROBLEM_CATALOGUE } from '@dystracer/core/basics/problem-catalogue'

const docs = join(import.meta.dirname, '../../../../docs')

describe('the reference', () => {
  test('lists every problem with its status and title, and no other', () => {
    const rows = [...readFileSync(join(docs, 'reference/problems.md'), 'utf8').matchAll(/^\| `([\w-]+)` +\| (\d+) +\| ([^|]+?) +\| (\S[^|]*) +\|$/gm)]
    const listed = Object.fromEntries(rows.map(([, code, status, title]) => [code, { status: Number(status), title }]))
    expect(listed).toEqual(PROBLEM_CATALOGUE)
  })
})
