import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  AUDIT_COLUMNS,
  type AuditedRequirement,
  type AuditReport,
  auditAsHtml,
  auditAsJson,
  auditRows,
  coverageByChapter,
  PROOF_STATES,
  proofStateOf,
} from './audit-report.js'

const row = (key: string, given: Partial<AuditedRequirement> = {}): AuditedRequirement => ({
  key,
  title: `Title of ${key}`,
  text: 'It shall.',
  parent: null,
  isHeading: false,
  revision: 1,
  state: 'unproved',
  items: [],
  tests: [],
  checks: [],
  ...given,
})
const report = (requirements: AuditedRequirement[], given: Partial<AuditReport> = {}): AuditReport => ({
  format: 'dystracer-audit-report',
  version: 1,
  project: { prefix: 'EMB', name: 'Emberwick' },
  atMs: Date.parse('2026-11-24T09:00:00Z'),
  requirements,
  gaps: [],
  baselines: [],
  changes: null,
  ...given,
})

describe('how far a requirement is proved', () => {
  test.each([
    [{ brokenBy: ['EMB-1'], failingTests: 1, suspects: 1, tests: 3 }, 'broken'],
    [{ brokenBy: [], failingTests: 1, suspects: 1, tests: 3 }, 'failing'],
    [{ brokenBy: [], failingTests: 0, suspects: 1, tests: 3 }, 'look-again'],
    [{ brokenBy: [], failingTests: 0, suspects: 0, tests: 3 }, 'proved'],
    [{ brokenBy: [], failingTests: 0, suspects: 0, tests: 0 }, 'unproved'],
  ])('is the worst that is known: %j', (known, state) => expect(proofStateOf(known)).toBe(state))
})

describe('coverage by chapter', () => {
  const requirements = fc.array(
    fc.record({ parent: fc.option(fc.nat(9), { nil: null }), isHeading: fc.boolean(), state: fc.constantFrom(...PROOF_STATES) }),
    { maxLength: 10 },
  )

  test('counts every requirement once, headings never, whatever hangs below what, loops included', () => {
    fc.assert(
      fc.property(requirements, (given) => {
        const rows = given.map(({ parent, ...rest }, at) => row(`R-${at}`, { ...rest, parent: parent === null ? null : `R-${parent}` }))
        const chapters = coverageByChapter(rows)
        const counted = rows.filter(({ isHeading }) => !isHeading)
        expect(chapters.reduce((sum, chapter) => sum + chapter.requirements, 0)).toBe(counted.length)
        for (const state of PROOF_STATES)
          expect(chapters.reduce((sum, chapter) => sum + chapter.states[state], 0)).toBe(
            counted.filter((one) => one.state === state).length,
          )
        expect(new Set(chapters.map(({ key }) => key)).size).toBe(chapters.length)
      }),
    )
  })

  test('goes by the outermost heading; what stands below none comes last', () => {
    const rows = [
      row('S-9', { state: 'proved' }),
      row('S-1', { isHeading: true }),
      row('S-2', { isHeading: true, parent: 'S-1' }),
      row('S-3', { parent: 'S-2', state: 'proved' }),
      row('S-4', { isHeading: true }),
    ]
    expect(coverageByChapter(rows).map(({ key, requirements: count, states }) => [key, count, states.proved])).toEqual([
      ['S-1', 1, 1],
      [null, 1, 1],
    ])
  })
})

const FULL = report(
  [
    row('SAF-1', { isHeading: true, title: 'Safe & faithful' }),
    row('SAF-2', {
      parent: 'SAF-1',
      state: 'failing',
      title: '<script>alert(1)</script>',
      items: [
        { key: 'EMB-1', title: 'Relay', stage: 'merged', kind: 'breaks', isSuspect: false },
        { key: 'EMB-2', title: 'Lid', stage: 'logged', kind: 'implements', isSuspect: true },
      ],
      tests: [{ name: 'opens', outcome: 'failed', build: 'kiln/7' }],
      checks: [
        {
          number: 3,
          title: 'By hand',
          environment: 'staging',
          outcome: 'passed',
          by: 'Ines',
          atMs: Date.parse('2026-11-20T10:00:00Z'),
          isStale: true,
        },
      ],
    }),
    row('SAF-3', { parent: 'SAF-1' }),
  ],
  {
    gaps: [
      { code: 'failing-test', kind: 'requirement', id: 'SAF-2', title: 'x', by: ['1 of 2'], ownerId: null, sinceMs: null, agreed: null },
      {
        code: 'without-test',
        kind: 'requirement',
        id: 'SAF-3',
        title: 'y',
        by: [],
        ownerId: null,
        sinceMs: null,
        agreed: { reason: 'No probe yet', until: '2027-01-01', by: 'person:ines' },
      },
    ],
  },
)

describe('the report', () => {
  test('as a table has a row for each item and each proof, and one for what has neither', () => {
    const rows = auditRows(FULL)
    expect(rows.map(({ requirement, item, proof, outcome }) => [requirement, item, proof, outcome])).toEqual([
      ['SAF-2', 'EMB-1', '', ''],
      ['SAF-2', 'EMB-2', '', ''],
      ['SAF-2', '', 'opens', 'failed'],
      ['SAF-2', '', 'case 3 By hand in staging', 'passed, for an older text'],
      ['SAF-3', '', '', ''],
    ])
    expect(rows.every((line) => Object.keys(line).sort().join() === [...AUDIT_COLUMNS].sort().join())).toBe(true)
  })

  test('as a page has words that are words, and numbers that lead to what they count', () => {
    const html = auditAsHtml(FULL, { address: 'https://kiln.example' })
    expect(html).not.toContain('<script')
    expect(html).toContain('&lt;script')
    const anchors = new Set([...html.matchAll(/ id="([^"]+)"/g)].map(([, id]) => id))
    const inside = [...html.matchAll(/href="#([^"]+)"/g)].map(([, id]) => id)
    expect(inside.length).toBeGreaterThanOrEqual(4)
    expect(inside.filter((id) => !anchors.has(id))).toEqual([])
    expect(html).toContain('href="https://kiln.example/requirements/requirement~SAF-2"')
    expect(html).toContain('href="https://kiln.example/items/item~EMB-2"')
    for (const words of ['1 open gaps', '1 ties made for an older text', 'No probe yet', 'Safe &amp; faithful'])
      expect(html).toContain(words)
  })

  test('says what changed since a baseline, each with what it was and why', () => {
    const changes: AuditReport['changes'] = {
      from: 'Spring',
      to: null,
      added: [{ key: 'SAF-9', title: 'New', text: 'It shall be new.' }],
      removed: [],
      changed: [
        { key: 'SAF-2', title: 'Relay', fromRevision: 1, toRevision: 2, before: 'within 9 s', after: 'within 5 s', because: 'measured' },
      ],
      moved: [{ key: 'SAF-3', title: 'Lid', from: 'SAF-1', to: null }],
      retired: [],
      restored: [],
      linksAdded: [{ kind: 'implements', item: 'EMB-2', requirement: 'SAF-2' }],
      linksRemoved: [],
    }
    const html = auditAsHtml({ ...FULL, changes }, { address: '' })
    for (const words of ['Changes since Spring', 'within 9 s', 'within 5 s', 'measured', 'below SAF-1', 'EMB-2 implements'])
      expect(html).toContain(words)
    expect(auditAsHtml(FULL, { address: '' })).not.toContain('Changes since')
  })

  test('of the same state is the same text, with its coverage', () => {
    expect(auditAsJson(FULL)).toBe(auditAsJson(structuredClone(FULL)))
    expect(JSON.parse(auditAsJson(FULL)).coverage).toMatchObject([{ key: 'SAF-1', requirements: 2, withoutItem: 1 }])
  })
})
