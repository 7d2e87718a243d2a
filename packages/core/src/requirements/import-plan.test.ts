import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { COMMON_ATTRIBUTES } from './attributes.js'
import { planRequirements, type StandingRequirement } from './import-plan.js'
import { guessColumns, readTable, type ImportRow } from './read-table.js'

const rowsOf = (...lines: Record<string, string>[]): ImportRow[] => lines.map((cells, index) => ({ line: index + 2, cells }))
const begun = { attributes: {}, object: null }
const standing: StandingRequirement[] = [
  { key: 'SAF-1', title: 'Safe firing', text: '', parent: null, isHeading: true, ...begun },
  { key: 'SAF-2', title: 'Door', text: 'The door shall stay shut.', parent: 'SAF-1', isHeading: false, ...begun },
]
const carried = (rows: ImportRow[], further: { hasOrder?: boolean; isPrefixChosen?: boolean; standing?: StandingRequirement[] } = {}) => {
  const columns = guessColumns(['ID', 'Title', 'Text', 'Parent', 'Type'], rows)
  const headings = [...new Set(rows.flatMap(({ cells }) => Object.keys(cells)))]
  const { drafts, definitions } = readTable({ headings, rows, columns, known: COMMON_ATTRIBUTES })
  return planRequirements({
    drafts,
    standing,
    definitions: [...COMMON_ATTRIBUTES, ...definitions],
    prefix: 'SAF',
    nextNumberOf: () => 3,
    ownerOf: (prefix) => (prefix === 'SAF' ? 'own' : prefix === 'EMB' ? 'other' : 'free'),
    isPrefixChosen: true,
    hasOrder: false,
    couldName: ({ key }, prefixes) => prefixes.has(key.slice(0, key.lastIndexOf('-'))),
    ...further,
  })
}
const plan = (rows: ImportRow[]) => carried(rows).plan

describe('a file of requirements', () => {
  test('is understood by what its columns are called', () => {
    expect(guessColumns(['Req ID', ' Name ', 'Statement', 'Section', 'Kind'], rowsOf({ Kind: 'heading' }))).toEqual({
      key: 'Req ID',
      title: ' Name ',
      text: 'Statement',
      parent: 'Section',
      heading: 'Kind',
    })
    expect(guessColumns(['Title', 'Kind']).heading).toBeNull()
  })

  test('gives rows with ids of their own the next numbers, and resolves parents by either name', () => {
    const { new: fresh, problems } = plan(
      rowsOf(
        { ID: 'r2', Title: 'Probe', Text: 'It shall be read.', Parent: 'r1', Type: '' },
        { ID: 'r1', Title: 'Sensors', Text: '', Parent: 'SAF-1', Type: 'heading' },
      ),
    )
    expect(problems).toEqual([])
    expect(fresh.map(({ key, parent, isHeading, line }) => ({ key, parent, isHeading, line }))).toEqual([
      { key: 'SAF-4', parent: 'SAF-1', isHeading: true, line: 3 },
      { key: 'SAF-3', parent: 'SAF-4', isHeading: false, line: 2 },
    ])
  })

  test('says what is new, changed, moved, gone and the same', () => {
    const { changed, moved, gone, same } = plan(rowsOf({ ID: 'saf-2', Title: 'Door', Text: 'The door shall lock.', Parent: '', Type: '' }))
    expect(changed).toMatchObject([{ key: 'SAF-2', what: ['text'] }])
    expect(moved).toEqual([{ key: 'SAF-2', from: 'SAF-1', to: null }])
    expect(gone.map(({ key }) => key)).toEqual(['SAF-1'])
    expect(same).toBe(0)
    expect(
      plan(
        rowsOf(
          ...standing.map(({ key, title, text, parent, isHeading }) => ({
            ID: key,
            Title: title,
            Text: text,
            Parent: parent ?? '',
            Type: isHeading ? 'heading' : '',
          })),
        ),
      ).same,
    ).toBe(2)
  })

  test.each([
    [{ ID: 'a', Title: '', Text: '' }, 'neither title nor text'],
    [{ ID: 'a', Title: 'x'.repeat(201), Text: '' }, 'at most 200 characters; this one has 201'],
    [{ ID: 'a', Title: 'x', Parent: 'SAF-9' }, 'SAF-9, which is not there'],
    [{ ID: 'a', Title: 'x', Parent: 'a' }, 'below itself'],
  ])('leaves out %j with the line and the reason', (cells, words) => {
    const { new: fresh, problems } = plan(rowsOf(cells as Record<string, string>))
    expect(fresh).toEqual([])
    expect(problems).toMatchObject([{ line: 2, words: expect.stringContaining(words) }])
  })

  test('leaves out what stands below a row that is left out, and the second of a doubled id', () => {
    const { new: fresh, problems } = plan(
      rowsOf({ ID: 'a', Title: '' }, { ID: 'b', Title: 'B', Parent: 'a' }, { ID: 'c', Title: 'C' }, { ID: 'c', Title: 'C again' }),
    )
    expect(fresh.map(({ title }) => title)).toEqual(['C'])
    expect(problems.map(({ line }) => line)).toEqual([2, 3, 5])
  })

  test('never plans a loop, a key twice or a parent after its child, whatever the rows say', () => {
    const name = fc.constantFrom('a', 'b', 'c', 'd', 'SAF-1', 'SAF-2', 'SAF-7', '')
    fc.assert(
      fc.property(fc.array(fc.record({ ID: name, Title: fc.constantFrom('One', 'Two', ''), Parent: name }), { maxLength: 12 }), (cells) => {
        const { new: fresh, changed, moved, problems } = plan(rowsOf(...cells))
        const keys = fresh.map(({ key }) => key)
        expect(new Set(keys).size).toBe(keys.length)
        const parents = new Map<string, string | null>(standing.map(({ key, parent }) => [key, parent]))
        for (const { key, to } of moved) parents.set(key, to)
        for (const { key, parent } of fresh) {
          expect(parent === null || parents.has(parent)).toBe(true)
          parents.set(key, parent)
        }
        for (const key of parents.keys()) {
          const seen = new Set<string>()
          for (let up: string | null = key; up !== null; up = parents.get(up) ?? null) {
            expect(seen.has(up)).toBe(false)
            seen.add(up)
          }
        }
        expect(fresh.length + changed.length + problems.length).toBeLessThanOrEqual(cells.length * 2)
      }),
    )
  })
})
