import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { CELL_STATES, foldMatrix, mergeCells, narrowMatrix, worse, type Matrix, type MatrixCell } from './matrix.js'

const cell = (row: string, column: string, state: MatrixCell['state'] = 'holds', words = state as string): MatrixCell => ({
  row,
  column,
  state,
  words,
  linkId: null,
})
const matrix: Matrix = {
  rows: [
    { key: 'S-1', title: 'Safety', parent: null, isHeading: true },
    { key: 'S-2', title: 'Limiter', parent: 'S-1', isHeading: false },
    { key: 'S-3', title: 'Sensors', parent: 'S-1', isHeading: true },
    { key: 'S-4', title: 'Probe', parent: 'S-3', isHeading: false },
    { key: 'P-1', title: 'Plans', parent: null, isHeading: false },
  ],
  columns: [
    { id: 'EMB-1', title: 'Cut the heat' },
    { id: 'EMB-2', title: 'Read the probe' },
    { id: 'EMB-3', title: 'Nothing yet' },
  ],
  cells: [cell('S-2', 'EMB-1'), cell('S-4', 'EMB-1', 'broken'), cell('S-4', 'EMB-2', 'said')],
}

describe('a matrix', () => {
  test('has the worst of several cells in one place', () => {
    expect(mergeCells([cell('a', 'b', 'holds', 'one'), cell('a', 'b', 'broken', 'two'), cell('a', 'b', 'look', 'one')])).toEqual([
      { ...cell('a', 'b', 'broken', 'two; one') },
    ])
  })

  test('folds chapters into one row each', () => {
    const folded = foldMatrix(matrix, new Set(['S-1']))
    expect(folded.rows.map(({ key }) => key)).toEqual(['S-1', 'P-1'])
    expect(folded.cells.map(({ row, column, state }) => [row, column, state])).toEqual([
      ['S-1', 'EMB-1', 'broken'],
      ['S-1', 'EMB-2', 'said'],
    ])
    expect(foldMatrix(matrix, new Set(['S-3'])).rows.map(({ key }) => key)).toEqual(['S-1', 'S-2', 'S-3', 'P-1'])
    expect(foldMatrix(matrix, new Set()).rows).toEqual(matrix.rows)
  })

  test('is narrowed by words on both sides, gaps first', () => {
    const narrowed = narrowMatrix(matrix, { rows: '', columns: 'emb', gapsFirst: true, onlyFilled: true })
    expect(narrowed.rows.map(({ key }) => key)).toEqual(['S-4', 'P-1', 'S-2', 'S-1', 'S-3'])
    expect(narrowed.columns.map(({ id }) => id)).toEqual(['EMB-1', 'EMB-2'])
    expect(narrowMatrix(matrix, { rows: 'probe', columns: 'cut', gapsFirst: false, onlyFilled: false })).toMatchObject({
      rows: [{ key: 'S-4' }],
      columns: [{ id: 'EMB-1' }],
      cells: [{ row: 'S-4', column: 'EMB-1' }],
    })
  })

  test('loses no column by folding, and never looks better than its worst cell', () => {
    const keys = matrix.rows.map(({ key }) => key)
    const cells = fc.array(
      fc.record({
        row: fc.constantFrom(...keys),
        column: fc.constantFrom('EMB-1', 'EMB-2', 'EMB-3'),
        state: fc.constantFrom(...CELL_STATES),
      }),
    )
    fc.assert(
      fc.property(cells, fc.subarray(keys), (some, folded) => {
        const whole = { ...matrix, cells: some.map(({ row, column, state }) => cell(row, column, state)) }
        const after = foldMatrix(whole, new Set(folded))
        for (const id of ['EMB-1', 'EMB-2', 'EMB-3']) {
          const worst = (of: Matrix) =>
            of.cells
              .filter(({ column }) => column === id)
              .map(({ state }) => state)
              .reduce<MatrixCell['state'] | null>((a, b) => (a === null ? b : worse(a, b)), null)
          expect(worst(after)).toBe(worst(whole))
        }
        const shown = new Set(after.rows.map(({ key }) => key))
        expect(after.cells.every(({ row }) => shown.has(row))).toBe(true)
      }),
    )
  })
})
