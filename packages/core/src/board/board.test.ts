import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { ItemSummary } from '#records/wire'
import { STAGES } from '#ladder/ladder'
import {
  BOARD_FIELDS,
  bothChanges,
  boardCells,
  boardColumns,
  boardMove,
  boardPlaces,
  boardValues,
  withChange,
  type BoardField,
} from './board.js'

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
  ownValues: {},
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
    labels: fc.subarray(['safety', 'night', 'glaze']),
    ownValues: fc.record(
      {
        zone: fc.option(fc.constantFrom('door', 'chimney')),
        seen: fc.subarray(['door', 'chimney']),
        height: fc.integer({ min: 0, max: 3 }),
      },
      { requiredKeys: [] },
    ),
  })
  .map((fields) => anItem(fields))
const ownFields = [
  { fieldId: 'zone', kind: 'one-of' },
  { fieldId: 'seen', kind: 'several-of' },
  { fieldId: 'height', kind: 'number' },
] as const
const FIELDS: readonly BoardField[] = [...BOARD_FIELDS, 'own.zone', 'own.seen', 'own.height']

describe('cells', () => {
  test('hold each item once in each column that is its own, and the board shows those columns', () => {
    fc.assert(
      fc.property(
        fc.array(item, { maxLength: 40 }),
        fc.constantFrom(...FIELDS),
        fc.option(fc.constantFrom(...FIELDS)),
        (items, columns, lanes) => {
          const cells = boardCells(items, columns, lanes)
          const placed = [...cells.values()].flatMap((row) => [...row.values()].flat())
          const times = (card: ItemSummary) => boardPlaces(card, columns).length * (lanes === null ? 1 : boardPlaces(card, lanes).length)
          expect(placed).toHaveLength(items.reduce((sum, card) => sum + times(card), 0))
          expect(new Set(placed)).toEqual(new Set(items))
          const values = boardValues(items, columns, [])
          for (const row of cells.values()) for (const column of row.keys()) expect(values).toContain(column)
          expect(new Set(values).size).toBe(values.length)
        },
      ),
    )
  })
})

describe('the columns of a board', () => {
  test('are those that were chosen in their order, with the number of cards that stand in none of them', () => {
    const cards = [anItem({ labels: ['night'] }), anItem({ labels: ['night', 'glaze'] }), anItem({ labels: ['safety'] }), anItem()]
    const all = boardValues(cards, 'labels', [])
    expect(all).toEqual(['glaze', 'night', 'safety', ''])
    expect(boardColumns(cards, 'labels', { all })).toEqual({ shown: all, hidden: 0 })
    expect(boardColumns(cards, 'labels', { all, chosen: ['night', 'glaze'] })).toEqual({ shown: ['night', 'glaze'], hidden: 2 })
  })
})

describe('a drop', () => {
  test('of a field gives the card the value of the column that it then stands in', () => {
    fc.assert(
      fc.property(
        item,
        fc.constantFrom<BoardField>('owner', 'component', 'milestone', 'severity', 'labels', 'own.zone', 'own.seen'),
        fc.constantFrom('1', '2', 'door', 'night', ''),
        (card, field, value) => {
          // The columns of severities are numbers.
          fc.pre(field !== 'severity' || /^\d?$/.test(value))
          const [from] = boardPlaces(card, field)
          const move = boardMove(card, field, value, [], { from, ownFields })
          if (move.kind === 'none') return expect(boardPlaces(card, field)).toContain(value)
          if (move.kind !== 'change') throw new Error(`unexpected ${move.kind}`)
          const moved = boardPlaces(withChange(card, move.change), field)
          expect(moved).toContain(value)
          // It leaves the column that it was taken from, and no other.
          expect(new Set(moved)).toEqual(value === '' ? new Set(['']) : new Set([...boardPlaces(card, field).slice(1), value]))
        },
      ),
    )
  })

  test('of a label changes that one alone; a change of own fields leaves the others as they are', () => {
    const card = anItem({ labels: ['night', 'glaze'], ownValues: { zone: 'door', height: 2 } })
    expect(boardMove(card, 'labels', 'safety', [], { from: 'glaze' })).toEqual({ kind: 'change', change: { labels: ['night', 'safety'] } })
    expect(boardMove(card, 'labels', 'night', [], { from: 'glaze' })).toEqual({ kind: 'none' })
    const zone = boardMove(card, 'own.zone', '', [], { ownFields })
    expect(zone).toEqual({ kind: 'change', change: { ownValues: { zone: null } } })
    expect(bothChanges({ ownValues: { zone: null } }, { labels: [], ownValues: { height: 1 } })).toEqual({
      labels: [],
      ownValues: { zone: null, height: 1 },
    })
    expect(withChange(card, { ownValues: { zone: null } }).ownValues).toEqual({ zone: null, height: 2 })
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
