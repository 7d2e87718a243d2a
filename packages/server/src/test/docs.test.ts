import { describe, expect, test } from '@jest/globals'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { PROBLEM_CATALOGUE } from '@dystracer/core/basics/problem-catalogue'

const docs = join(import.meta.dirname, '../../../../docs')

describe('the reference', () => {
  test('lists every problem with its status and title, and no other', () => {
    const rows = [
      ...readFileSync(join(docs, 'reference/problems.md'), 'utf8').matchAll(/^\| `([\w-]+)` +\| (\d+) +\| ([^|]+?) +\| (\S[^|]*) +\|$/gm),
    ]
    const listed = Object.fromEntries(rows.map(([, code, status, title]) => [code, { status: Number(status), title }]))
    expect(listed).toEqual(PROBLEM_CATALOGUE)
  })
})

test('every rule that the sources cite stands in docs/rules.md', () => {
  const anchors = new Set([...readFileSync(join(docs, 'rules.md'), 'utf8').matchAll(/^### (\S+)$/gm)].map(([, anchor]) => anchor))
  const packages = join(docs, '../packages')
  const cited = readdirSync(packages).flatMap((name) =>
    readdirSync(join(packages, name, 'src'), { recursive: true, encoding: 'utf8' })
      .filter((file) => /\.tsx?$/.test(file))
      .flatMap((file) =>
        [...readFileSync(join(packages, name, 'src', file), 'utf8').matchAll(/docs\/rules\.md#([\w-]+)/g)].map(([, anchor]) => anchor),
      ),
  )
  expect(cited.length).toBeGreaterThan(20)
  expect(cited.filter((anchor) => !anchors.has(anchor))).toEqual([])
})
