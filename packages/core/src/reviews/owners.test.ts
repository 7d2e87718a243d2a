import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { ownersIn, parseOwners, proposeReviewers, type ReviewerFacts } from './owners.js'

describe('an owners file', () => {
  const text = `# Who looks after what
*            ines
/src/relay/  tam "Mara Lindqvist"   # the relays
*.md
docs/**/*.md noor@emberwick.example
`
  test('is read line by line, with names in quotes and comments', () => {
    expect(parseOwners(text)).toEqual([
      { pattern: '*', owners: ['ines'] },
      { pattern: '/src/relay/', owners: ['tam', 'Mara Lindqvist'] },
      { pattern: '*.md', owners: [] },
      { pattern: 'docs/**/*.md', owners: ['noor@emberwick.example'] },
    ])
  })

  test.each([
    ['src/main.js', ['ines']],
    ['src/relay/door.js', ['tam', 'Mara Lindqvist']],
    ['lib/src/relay/door.js', ['ines']],
    ['README.md', []],
    ['docs/guides/run.md', ['noor@emberwick.example']],
  ])('gives %s to %j: the last line that fits decides', (path, owners) => expect(ownersIn(parseOwners(text))(path)).toEqual(owners))

  test('is survived whatever it holds, and whatever the path', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 200 }), fc.string({ maxLength: 60 }), (file, path) => {
        expect(Array.isArray(ownersIn(parseOwners(file))(path))).toBe(true)
      }),
    )
  })
})

describe('whom to ask', () => {
  const aPerson = (personId: string, facts: Partial<ReviewerFacts> = {}): ReviewerFacts => ({
    personId,
    owned: [],
    knows01: 0,
    commits: 0,
    waiting: 0,
    ...facts,
  })

  test('is an owner before somebody who only knows the files, and of equals whoever has less waiting', () => {
    const people = [
      aPerson('knows', { knows01: 0.9, commits: 8 }),
      aPerson('owns', { owned: ['a.js'] }),
      aPerson('busy', { owned: ['a.js'], waiting: 4 }),
      aPerson('stranger'),
    ]
    expect(proposeReviewers(people, { paths: 1 }).map(({ personId }) => personId)).toEqual(['owns', 'busy', 'knows'])
  })

  test('never is somebody for whom nothing speaks', () => {
    const facts = fc.record({
      personId: fc.string({ minLength: 1, maxLength: 4 }),
      owned: fc.array(fc.constant('a.js'), { maxLength: 2 }),
      knows01: fc.double({ min: 0, max: 1, noNaN: true }),
      commits: fc.nat(9),
      waiting: fc.nat(9),
    })
    fc.assert(
      fc.property(fc.array(facts, { maxLength: 9 }), fc.integer({ min: 1, max: 4 }), (people, limit) => {
        const found = proposeReviewers(people, { paths: 2, limit })
        expect(found.length).toBeLessThanOrEqual(limit)
        for (const { owned, knows01 } of found) expect(owned.length > 0 || knows01 > 0).toBe(true)
      }),
    )
  })
})
