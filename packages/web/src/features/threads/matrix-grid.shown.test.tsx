import { beforeAll, expect, test } from '@jest/globals'
import { useState } from 'react'
import type { Matrix } from '@dystracer/core/threads/matrix'
import { show } from '#shared/test/shown'
import { MatrixGrid, type MatrixPlace } from './MatrixGrid'

// jsdom lays nothing out: the grid is given a size, so that it draws what would be on screen.
beforeAll(() => {
  Object.defineProperties(HTMLElement.prototype, {
    offsetHeight: { configurable: true, get: () => 600 },
    offsetWidth: { configurable: true, get: () => 900 },
  })
  HTMLElement.prototype.scrollTo = () => {}
})

const SIZE = 2000
const BIG: Matrix = {
  rows: Array.from({ length: SIZE }, (_, at) => ({
    key: `SAF-${at}`,
    title: `Rule ${at}`,
    parent: at === 1 ? 'SAF-0' : null,
    isHeading: at === 0,
  })),
  columns: Array.from({ length: SIZE }, (_, at) => ({ id: `EMB-${at}`, title: `Item ${at}` })),
  cells: [
    { row: 'SAF-1', column: 'EMB-1', state: 'broken', words: 'broken by EMB-1', linkId: 'l1' },
    { row: 'SAF-2', column: 'EMB-1', state: 'holds', words: 'implemented by EMB-1', linkId: null },
  ],
}

function Shown({ places, opened, matrix }: { places: MatrixPlace[]; opened: MatrixPlace[]; matrix: Matrix }) {
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set())
  const fold = (key: string) => setFolded((before) => (before.has(key) ? new Set() : new Set([key])))
  return <MatrixGrid matrix={matrix} folded={folded} onFold={fold} onPlace={(at) => places.push(at)} onOpen={(at) => opened.push(at)} />
}
const shown = (matrix: Matrix = BIG) => {
  const [places, opened]: MatrixPlace[][] = [[], []]
  const page = show(<Shown places={places as MatrixPlace[]} opened={opened as MatrixPlace[]} matrix={matrix} />)
  return { ...page, places: places as MatrixPlace[], opened: opened as MatrixPlace[], grid: page.getByRole('grid', { name: 'Matrix' }) }
}
const isHere = ({ row, column }: MatrixPlace) => `${row.key} ${column.id}`

test('of four million cells only those in sight are drawn, and a reader is told how many there are', () => {
  const { grid, getAllByRole } = shown()
  expect(grid.getAttribute('aria-rowcount')).toBe(String(SIZE + 1))
  expect(grid.getAttribute('aria-colcount')).toBe(String(SIZE + 1))
  const drawn = getAllByRole('gridcell').length
  expect(drawn).toBeGreaterThan(100)
  expect(drawn).toBeLessThan(5000)
})

test('a cell says in words where it is and what it holds; an empty one says that it is nothing', () => {
  const { getByRole } = shown()
  expect(getByRole('gridcell', { name: 'SAF-1, EMB-1: broken by EMB-1' }).querySelector('.bg-fault')).not.toBeNull()
  expect(getByRole('gridcell', { name: 'SAF-2, EMB-1: implemented by EMB-1' }).querySelector('.bg-proof')).not.toBeNull()
  expect(getByRole('gridcell', { name: 'SAF-0, EMB-0: nothing' }).children).toHaveLength(0)
})

test('arrows walk it within its edges, Enter opens where one is, and a press goes there', async () => {
  const { grid, user, places, opened, getByRole } = shown()
  grid.focus()
  await user.keyboard('{ArrowUp}{ArrowLeft}')
  expect(places.map(isHere)).toEqual(['SAF-0 EMB-0', 'SAF-0 EMB-0'])
  await user.keyboard('{ArrowDown}{ArrowRight}{Enter}')
  expect(opened.map(({ cell }) => cell?.words)).toEqual(['broken by EMB-1'])
  expect(grid.getAttribute('aria-activedescendant')).toBe('cell-1-1')
  expect(getByRole('gridcell', { selected: true }).id).toBe('cell-1-1')
  await user.keyboard('{PageDown}')
  expect(places.at(-1) && isHere(places.at(-1) as MatrixPlace)).toBe('SAF-16 EMB-1')
  await user.click(getByRole('gridcell', { name: 'SAF-3, EMB-2: nothing' }))
  expect(places.at(-1)).toMatchObject({ row: { key: 'SAF-3' }, column: { id: 'EMB-2' }, cell: null })
})

test('a space folds what has something below it, and nothing else', async () => {
  const { grid, user, queryByText, getByText } = shown()
  grid.focus()
  await user.keyboard('{ArrowDown}{ArrowDown} ')
  expect(queryByText('…', { exact: false })).toBeNull()
  await user.keyboard('{ArrowUp}{ArrowUp} ')
  getByText('Rule 0 …')
  await user.keyboard(' ')
  expect(queryByText('Rule 0 …')).toBeNull()
})

test('an empty matrix neither opens nor moves', async () => {
  const { grid, user, places, opened } = shown({ rows: [], columns: [], cells: [] })
  grid.focus()
  await user.keyboard('{ArrowDown}{Enter} ')
  expect([places, opened]).toEqual([[], []])
})
