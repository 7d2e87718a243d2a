import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { compareVersions } from './compare-versions.js'
import { judgeHealth, rateOf } from './judge-health.js'
import { candidateOf, nextNames, nextOnLine, preparedBy } from './next-names.js'
import { releaseFiles } from './release-files.js'
import { runSpans } from './run-spans.js'
import { type NoteEvidence, notesAsMarkdown, writeNotes } from './write-notes.js'

const isOlder = (release: string, than: string) => compareVersions(release, than) < 0
const start = (deploymentId: string, release: string, runningAtMs: number) => ({ deploymentId, release, runningAtMs })

describe('what ran when', () => {
  test('each release runs until the next one begins; one that gives way to an older was taken back; the same again goes on', () => {
    const spans = runSpans([start('c', '4.1.3', 30), start('a', '4.1.3', 0), start('b', '4.2.0', 20), start('d', '4.1.3', 40)], isOlder)
    expect(spans.map(({ release, fromMs, toMs, isTakenBack }) => [release, fromMs, toMs, isTakenBack])).toEqual([
      ['4.1.3', 0, 20, false],
      ['4.2.0', 20, 30, true],
      ['4.1.3', 30, null, false],
    ])
  })

  test('spans lie end to end, in whatever order they were reported', () => {
    const starts = fc.uniqueArray(fc.record({ release: fc.constantFrom('1', '2', '3'), runningAtMs: fc.nat(50) }), {
      selector: (one) => one.runningAtMs,
    })
    fc.assert(
      fc.property(starts, (given) => {
        const all = given.map((one, at) => ({ ...one, deploymentId: String(at) }))
        const spans = runSpans(all, isOlder)
        expect(runSpans([...all].reverse(), isOlder)).toEqual(spans)
        for (const [at, span] of spans.entries()) expect(span.toMs).toBe(spans[at + 1]?.fromMs ?? null)
        for (const { release, runningAtMs } of all)
          expect(spans.find(({ fromMs, toMs }) => fromMs <= runningAtMs && (toMs === null || toMs > runningAtMs))?.release).toBe(release)
      }),
    )
  })
})

describe('how a release does', () => {
  test('the interval is the known one for a Poisson count', () => {
    // Exact 95 % bounds for 10 events: 4.795 and 18.39 (Garwood 1936).
    const rate = rateOf({ failures: 10, units: 1000 })
    expect(rate?.from).toBeCloseTo(4.795, 1)
    expect(rate?.to).toBeCloseTo(18.39, 1)
    expect(rateOf({ failures: 0, units: 1000 })).toMatchObject({ from: 0, perThousand: 0 })
    expect(rateOf({ failures: 0, units: 1000 })?.to).toBeCloseTo(3.69, 1)
    expect(rateOf({ failures: 3, units: 0 })).toBeNull()
  })

  test.each([
    [{ failures: 9, units: 1000 }, { failures: 4, units: 10_000 }, 3, 'stop'],
    [{ failures: 30, units: 1000 }, { failures: 100, units: 10_000 }, 0, 'look'],
    [{ failures: 10, units: 1000 }, { failures: 100, units: 10_000 }, 0, 'healthy'],
    [{ failures: 10, units: 1000 }, { failures: 100, units: 10_000 }, 1, 'look'],
    [{ failures: 0, units: 20 }, { failures: 0, units: 10_000 }, 0, 'too-early'],
    [{ failures: 4, units: 20 }, { failures: 0, units: 10_000 }, 1, 'look'],
    [{ failures: 4, units: 500 }, { failures: 0, units: 0 }, 0, 'healthy'],
  ] as const)('%j after %j with %i new faults: %s', (after, before, newFaults, verdict) => {
    expect(judgeHealth(after, before, newFaults).verdict).toBe(verdict)
  })

  test('the bounds enclose the rate, and more work narrows them', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 500 }), fc.integer({ min: 1, max: 100_000 }), (failures, units) => {
        const [one, ten] = [rateOf({ failures, units }), rateOf({ failures: failures * 10, units: units * 10 })]
        if (!one || !ten) throw new Error('there was work')
        expect(one.from).toBeLessThanOrEqual(one.perThousand)
        expect(one.to).toBeGreaterThan(one.perThousand)
        expect(ten.to - ten.from).toBeLessThanOrEqual(one.to - one.from)
      }),
    )
  })
})

test('files are sorted by what they mean to somebody who runs the program', () => {
  expect(
    releaseFiles([
      'src/relay.js',
      'db/migrations/0007.sql',
      'deploy/app.yaml',
      'test/schema.test.js',
      'vite.config.ts',
      '.env.example',
      'Dockerfile',
    ]),
  ).toEqual({
    schema: ['db/migrations/0007.sql'],
    settings: ['deploy/app.yaml', 'vite.config.ts', '.env.example', 'Dockerfile'],
    tests: ['test/schema.test.js'],
    changed: 7,
  })
})

describe('notes', () => {
  const item = (key: string, type: string, title: string, requirements: string[] = []) => ({ key, type, title, requirements })
  const evidence: NoteEvidence = {
    service: 'kiln',
    release: '4.2.0',
    against: '4.1.3',
    items: [item('EMB-1', 'defect', 'Relay *sticks* <b>', ['SAF-3']), item('EMB-2', 'task', 'Panel in Welsh')],
    lost: [],
    known: [item('EMB-9', 'defect', 'Door alarm late')],
    schema: ['db/migrations/0007.sql'],
    settings: [],
    dependencies: [{ name: 'koa', from: '2.0.0', to: '3.0.0' }],
    commits: 5,
    commitsForNothing: 1,
    authors: ['Ines Okafor'],
    written: new Map([
      ['EMB-2', 'The panel speaks **Welsh**.'],
      ['', 'Please restart.'],
    ]),
  }

  test('say to each reader what concerns them; what people wrote takes the place of what is said by itself', () => {
    expect(writeNotes(evidence, 'users')).toMatchObject({
      intro: 'Please restart.',
      groups: [
        { title: 'New and changed', lines: [{ key: 'EMB-2', text: 'The panel speaks **Welsh**.', isWritten: true }] },
        { title: 'Fixed', lines: [{ text: 'Relay *sticks* <b>', isWritten: false }] },
        { title: 'Known problems' },
      ],
    })
    expect(writeNotes(evidence, 'operators').groups.map(({ title }) => title)).toEqual([
      'New and changed',
      'Fixed',
      'Database and schema',
      'Dependencies',
      'Known problems',
    ])
    const audit = JSON.stringify(writeNotes(evidence, 'auditors'))
    for (const words of ['asked for by SAF-3', '5 changes against 4.1.3, 1 of them for no item', 'by Ines Okafor'])
      expect(audit).toContain(words)
  })

  test('are Markdown in which a title stays text', () => {
    const markdown = notesAsMarkdown(evidence, writeNotes(evidence, 'users'))
    expect(markdown).toContain('# kiln 4.2.0\n\nPlease restart.\n\n## New and changed\n\n- The panel speaks **Welsh**.')
    expect(markdown).toContain('- Relay \\*sticks\\* \\<b\\>')
    const empty = { ...evidence, items: [], known: [], written: new Map() }
    expect(notesAsMarkdown(evidence, writeNotes(empty, 'users'))).toContain('Nothing that concerns you')
  })
})

describe('the next name', () => {
  test.each([
    [[], ['0.1.0', '1.0.0']],
    [
      ['4.1.3', '4.1.10', '4.0.0'],
      ['4.1.11', '4.2.0', '5.0.0'],
    ],
    [
      ['2.4', '2.3'],
      ['2.5', '3.0'],
    ],
    [
      ['4.2.0-c2', '4.1.3'],
      ['4.2.0', '4.2.0-c3'],
    ],
    [['2026.11.2'], ['2026.11.3']],
    [['2026.10.4'], ['2026.11', '2026.11.24']],
    [['nightly'], []],
  ])('after %j: %j', (taken, names) => {
    expect(nextNames(taken, '2026-11-24').names).toEqual(names)
  })

  test('is never taken, and always newer than the newest', () => {
    const version = fc.tuple(fc.nat(4), fc.nat(12), fc.nat(12)).map((parts) => parts.join('.'))
    fc.assert(
      fc.property(fc.array(version, { minLength: 1, maxLength: 8 }), (taken) => {
        const { latest, names } = nextNames(taken, '2026-11-24')
        expect(names.length).toBeGreaterThan(0)
        for (const name of names) {
          expect(taken).not.toContain(name)
          expect(compareVersions(latest ?? '', name)).toBeLessThan(0)
        }
      }),
    )
  })
})

test('the next release of a line keeps its numbers and is free', () => {
  expect(nextOnLine('4.1.5', ['4.1.5', '4.1.6', '4.2.0'])).toBe('4.1.7')
  expect(nextOnLine('4.1', ['4.1'])).toBe('4.1.1')
  expect(nextOnLine('4.2.0-rc.1', [])).toBe('4.2.1')
  expect(nextOnLine('autumn', [])).toBeNull()
})

test('a candidate counts up, sorts before what it prepares, and says what that is', () => {
  fc.assert(
    fc.property(fc.nat(20), fc.nat(20), fc.nat(5), (major, minor, count) => {
      const name = `${major}.${minor}.0`
      const taken = Array.from({ length: count }, (_, at) => `${name}-rc.${at + 1}`)
      const candidate = candidateOf(name, taken)
      expect(candidate).toBe(`${name}-rc.${count + 1}`)
      expect(preparedBy(candidate)).toBe(name)
      expect(compareVersions(candidate, name)).toBeLessThan(0)
      for (const before of taken) expect(compareVersions(before, candidate)).toBeLessThan(0)
    }),
  )
  expect(preparedBy('4.2.0')).toBeNull()
  expect(preparedBy('4.2.0-beta.1')).toBeNull()
})
