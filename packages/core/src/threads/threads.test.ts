import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { findGaps } from './find-gaps.js'
import { layoutThread } from './layout.js'
import { THREAD_COLUMNS, type ThreadEdge, type ThreadNode } from './thread.js'

function aNode(id: string, column: ThreadNode['column'], kind: NonNullable<ThreadNode['ref']>['kind'] = 'item'): ThreadNode {
  return { id, ref: { kind, id }, column, title: id, subtitle: '', tone: 'plain' }
}
function anEdge(from: string, to: string): ThreadEdge {
  return { from, to, kind: 'tied', provenance: 'git', statedBy: null, atMs: null, score01: null, tone: 'proof' }
}

describe('layoutThread', () => {
  test('boxes of a column never overlap, whatever the thread', () => {
    fc.assert(
      fc.property(
        fc.array(fc.nat(5), { minLength: 1, maxLength: 40 }),
        fc.array(fc.tuple(fc.nat(), fc.nat()), { maxLength: 60 }),
        (columns, pairs) => {
          const nodes = columns.map((column, index) => aNode(`n${index}`, THREAD_COLUMNS[column] ?? 'items'))
          const edges = pairs.map(([a, b]) => anEdge(`n${a % nodes.length}`, `n${b % nodes.length}`))
          const { boxes } = layoutThread(nodes, edges)
          for (const a of boxes)
            for (const b of boxes) if (a.id < b.id && a.xPx === b.xPx) expect(Math.abs(a.yPx - b.yPx)).toBeGreaterThanOrEqual(a.heightPx)
          expect(boxes).toHaveLength(nodes.length)
        },
      ),
    )
  })
  test('a chain runs straight', () => {
    const { boxes } = layoutThread(
      [aNode('a', 'requirement'), aNode('b', 'items'), aNode('c', 'code')],
      [anEdge('a', 'b'), anEdge('b', 'c')],
    )
    expect(new Set(boxes.map((box) => box.yPx)).size).toBe(1)
  })
})

test('gaps are named: no item, no test, no code, no release', () => {
  const nodes = [
    aNode('r', 'requirement', 'requirement'),
    aNode('r2', 'requirement', 'requirement'),
    aNode('i', 'items', 'item'),
    aNode('t', 'review', 'test'),
  ]
  const gaps = findGaps(nodes, [anEdge('r', 'i'), anEdge('r', 't')], new Map([['i', 'merged']]))
  expect(gaps.map((gap) => `${gap.code} ${gap.of}`).sort()).toEqual([
    'fix-without-release i',
    'item-without-code i',
    'requirement-without-item r2',
    'requirement-without-test r2',
  ])
})
