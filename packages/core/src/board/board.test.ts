import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { ItemSummary } from '#records/wire'
import { STAGES } from '#ladder/ladder'
import { BOARD_FIELDS, boardCells, boardMove, boardValue, boardValues } from './board.js'

const anItem = (fields: Partial<ItemSummary> = {}): ItemSummary => ({
  key: 'EMB-1',
  title: 'Relay sticks',
  type: 'defect',
  severity: null,
  ownerId: null,
  component: null,
  milestone: null,
  labels: [],
  stage: 'logged',
  stair: 'pwwwwww',
  hasComeBack: false,
  disposition: null,
  hasDrift: false,
  project: 'EMB',
  priority: null,
  sprint: null,
  points: null,
  estimateMinutes: null,
  coOwnerIds: [],
  dueOn: null,
  isConfidential: false,
  isArchived: false,
  isBlocked: false,
  createdAtMs: 0,
  updatedAtMs: 0,
  revision: 1,
  ...fields,
})
const item = fc
  .record({
    key: fc.integer({ min: 1, max: 999 }).map((number) => `EMB-${number}`),
    stage: fc.constantFrom(...STAGES),
    severity: fc.option(fc.integer({ min: 1, max: 5 })),
    ownerId: fc.option(fc.constantFrom('ines', 'rafe')),
    component: fc.option(fc.constantFrom('Kiln control', 'Billing')),
    milestone: fc.option(fc.constantFrom('4.1', '4.2')),
  })
  .map(anItem)

describe('cells', () => {
  test('hold each item once, in a column that the board shows', () => {
    fc.assert(
      fc.property(
        fc.array(item, { maxLength: 40 }),
        fc.constantFrom(...BOARD_FIELDS),
        fc.option(fc.constantFrom(...BOARD_FIELDS)),
        (items, columns, lanes) => {
          const cells = boardCells(items, columns, lanes)
          const placed = [...cells.values()].flatMap((row) => [...row.values()].flat())
          expect(placed).toHaveLength(items.length)
          expect(new Set(placed)).toEqual(new Set(items))
          const values = boardValues(items, columns, [])
          for (const row of cells.values()) for (const column of row.keys()) expect(values).toContain(column)
          expect(new Set(values).size).toBe(values.length)
        },
      ),
    )
  })
})

describe('a drop', () => {
  test('of a field gives the card the value of the column that it then stands in', () => {
    fc.assert(
      fc.property(
        item,
        fc.constantFrom('owner', 'component', 'milestone', 'severity' as const),
        fc.constantFrom('1', '2', ''),
        (card, field, value) => {
          const move = boardMove(card, field as 'owner', value, [])
          if (move.kind === 'none') expect(boardValue(card, field as 'owner')).toBe(value)
          else if (move.kind === 'change') expect(boardValue({ ...card, ...move.change } as ItemSummary, field as 'owner')).toBe(value)
          else throw new Error(`unexpected ${move.kind}`)
        },
      ),
    )
  })

  test('on a stage is one’s own act, or a claim, or is refused with what is missing', () => {
    const rules = [{ stage: 'accepted', needs: ['owner', 'milestone', 'requirement'] }]
    expect(boardMove(anItem(), 'stage', 'accepted', rules)).toEqual({ kind: 'refused', code: 'needs', missing: ['owner', 'milestone'] })
    expect(boardMove(anItem({ ownerId: 'ines', milestone: '4.2' }), 'stage', 'accepted', rules)).toEqual({ kind: 'accept' })
    expect(boardMove(anItem(), 'stage', 'verified', [])).toEqual({ kind: 'verify' })
    expect(boardMove(anItem(), 'stage', 'merged', [])).toEqual({ kind: 'claim', stage: 'merged' })
    expect(boardMove(anItem({ stage: 'merged' }), 'stage', 'logged', [])).toMatchObject({ kind: 'refused', code: 'not-by-hand' })
    expect(boardMove(anItem({ disposition: 'deferred' }), 'stage', 'accepted', [])).toMatchObject({ kind: 'refused' })
    expect(boardMove(anItem(), 'stage', 'logged', [])).toEqual({ kind: 'none' })
  })
})
