import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { followLine, readPieces, type ChangedPiece } from './follow-line.js'
import { DEFAULT_GATES, isWithin, mergeGates, type GateFacts } from './gates.js'
import { standingVerdicts, type GivenVerdict } from './verdicts.js'

const given = (personId: string, verdict: GivenVerdict['verdict'], atMs: number, patches = ['p1', 'p2']): GivenVerdict => ({
  personId,
  verdict,
  patches,
  atMs,
})
const stand = (verdicts: GivenVerdict[], patches = ['p1', 'p2'], authors: string[] = []) =>
  standingVerdicts(verdicts, { patches, authorIds: new Set(authors) }).map(
    ({ personId, verdict, fell }) => `${personId} ${verdict} ${fell ?? 'holds'}`,
  )

describe('a verdict', () => {
  test('of agreement holds for the patches that were seen, whatever commits carry them, and falls with any other', () => {
    const agreed = [given('rafe', 'agreed', 1)]
    expect(stand(agreed, ['p2', 'p1'])).toEqual(['rafe agreed holds'])
    expect(stand(agreed, ['p1', 'p3'])).toEqual(['rafe agreed changed'])
    expect(stand(agreed, ['p1'])).toEqual(['rafe agreed changed'])
    expect(stand(agreed, ['p1', 'p2', 'p3'])).toEqual(['rafe agreed changed'])
  })

  test('that asks for changes stands until its giver says otherwise; a bare remark takes nothing back', () => {
    const objected = given('rafe', 'changes-asked', 1)
    expect(stand([objected, given('rafe', 'remarked', 2)], ['p9'])).toEqual(['rafe changes-asked holds'])
    expect(stand([given('rafe', 'agreed', 3), objected])).toEqual(['rafe agreed holds'])
    expect(stand([given('rafe', 'remarked', 1), given('rafe', 'agreed', 2)])).toEqual(['rafe agreed holds'])
  })

  test('of whoever wrote a part counts for nothing', () => {
    expect(stand([given('rafe', 'agreed', 1)], ['p1', 'p2'], ['rafe'])).toEqual(['rafe agreed own-work'])
  })
})

describe('the gates of a merge', () => {
  const facts = (more: Partial<GateFacts>): GateFacts => ({
    gates: DEFAULT_GATES,
    fileTrouble: null,
    isDraft: false,
    buildTrouble: null,
    verdicts: [],
    owned: [],
    openRemarks: 3,
    itemCount: 0,
    requirementCount: 0,
    suspectCount: 2,
    spentMinutes: 0,
    newFindings: 1,
    measures: null,
    trialWords: null,
    coveredPercent: undefined,
    brokenBase: 'Build 3 of main broke',
    nowMs: Date.parse('2026-11-24T09:30:00Z'),
    ...more,
  })
  const shown = (more: Partial<GateFacts>) => mergeGates(facts(more)).map(({ code, isMet }) => `${code} ${isMet ? 'holds' : 'does not'}`)
  const standing = (verdict: GivenVerdict['verdict'], fell: 'changed' | null = null, personId = 'rafe') => ({
    ...given(personId, verdict, 1),
    fell,
  })

  test('a row is asked for of what lives here alone, and nobody goes through it by hand', () => {
    const gates = { ...DEFAULT_GATES, triesOnTop: true }
    const queueOf = (trialWords: string | null) => mergeGates(facts({ gates, trialWords })).find(({ code }) => code === 'queue')
    expect(queueOf(null)).toBeUndefined()
    expect(queueOf('build 4 passed')).toMatchObject({ isMet: false, words: 'build 4 passed' })
  })

  test('are what builds say, and what the repository asks for', () => {
    expect(shown({})).toEqual(['build holds'])
    expect(
      shown({ buildTrouble: 'Build 7 broke', gates: { ...DEFAULT_GATES, agreements: 1, needsSettled: true, needsItem: true } }),
    ).toEqual(['build does not', 'agreements does not', 'settled does not', 'item does not'])
    expect(shown({ gates: { ...DEFAULT_GATES, needsSettled: true, needsItem: true }, openRemarks: 0, itemCount: 1 })).toEqual([
      'build holds',
      'settled holds',
      'item holds',
    ])
  })

  test('ask for owners of paths, requirements, time, a sound base and hours where the repository does', () => {
    const gates = {
      ...DEFAULT_GATES,
      needsRequirement: true,
      needsTime: true,
      needsNoSuspects: true,
      noNewFindings: true,
      notWhileBroken: true,
    }
    expect(shown({ gates, isDraft: true, fileTrouble: 'x' })).toEqual([
      'file does not',
      'draft does not',
      'build holds',
      'requirement does not',
      'suspects does not',
      'time does not',
      'findings does not',
      'main does not',
    ])
    const good = { requirementCount: 1, suspectCount: 0, spentMinutes: 5, newFindings: 0, brokenBase: null }
    expect(shown({ gates, ...good }).every((line) => line.endsWith(' holds'))).toBe(true)
    const owned = [
      { paths: ['a.ts', 'b.ts'], personIds: ['rafe', 'mara'] },
      { paths: ['c.ts'], personIds: ['noor'] },
    ]
    const byOwners = { ...DEFAULT_GATES, needsOwners: true }
    const [, gate] = mergeGates(facts({ gates: byOwners, owned, verdicts: [standing('agreed')] }))
    expect(gate).toMatchObject({ code: 'owners', isMet: false, has: 1, needs: 2, words: 'c.ts', personIds: ['noor'] })
    expect(shown({ gates: byOwners, owned, verdicts: [standing('agreed'), standing('agreed', null, 'noor')] })).toContain('owners holds')
  })

  test('ask for tests of the lines that it brings: as many as are asked for, where they can be measured', () => {
    const gates = { ...DEFAULT_GATES, coverageAtLeast: 80 }
    const coverage = (coveredPercent: number | null | undefined) => mergeGates(facts({ gates, coveredPercent }))[1]
    expect(coverage(80)).toMatchObject({ code: 'coverage', isMet: true, has: 80, needs: 80, words: null })
    expect(coverage(79)).toMatchObject({ isMet: false, has: 79 })
    expect(coverage(null)).toMatchObject({ isMet: true, words: expect.stringContaining('None of the lines') })
    expect(coverage(undefined)).toMatchObject({ isMet: false, words: expect.stringContaining('No coverage was reported') })
  })

  test.each([
    ['2026-11-24T09:30:00Z', [2], '08:00', '16:00', 'UTC', true],
    ['2026-11-24T07:59:00Z', [2], '08:00', '16:00', 'UTC', false],
    ['2026-11-24T07:59:00Z', [2], '08:00', '16:00', 'Europe/Berlin', true],
    ['2026-11-24T16:00:00Z', [2], '08:00', '16:00', 'UTC', false],
    ['2026-11-24T09:30:00Z', [1, 3], '08:00', '16:00', 'UTC', false],
    ['2026-11-25T01:00:00Z', [2], '22:00', '04:00', 'UTC', true],
    ['2026-11-24T01:00:00Z', [2], '22:00', '04:00', 'UTC', false],
    ['2026-11-30T01:00:00Z', [7], '22:00', '04:00', 'UTC', true],
  ])('at %s on days %j from %s to %s in %s: %s', (at, days, from, until, zone, isOpen) => {
    expect(isWithin({ days, from, until, zone }, Date.parse(at))).toBe(isOpen)
  })

  test('count agreements that hold; an objection always counts', () => {
    const gates = { ...DEFAULT_GATES, agreements: 2 }
    expect(shown({ gates, verdicts: [standing('agreed'), standing('agreed', 'changed', 'mara')] })).toContain('agreements does not')
    expect(shown({ gates, verdicts: [standing('agreed'), standing('agreed', null, 'mara')] })).toContain('agreements holds')
    expect(shown({ verdicts: [standing('changes-asked')] })).toEqual(['build holds', 'no-objection does not'])
  })
})

describe('a line that is followed', () => {
  test.each<[number, ChangedPiece[], number | null]>([
    [10, [{ oldStart: 3, oldLines: 0, newStart: 4, newLines: 2 }], 12],
    [3, [{ oldStart: 3, oldLines: 0, newStart: 4, newLines: 2 }], 3],
    [4, [{ oldStart: 3, oldLines: 0, newStart: 4, newLines: 2 }], 6],
    [5, [{ oldStart: 5, oldLines: 2, newStart: 5, newLines: 1 }], null],
    [7, [{ oldStart: 5, oldLines: 2, newStart: 5, newLines: 1 }], 6],
    [1, [{ oldStart: 0, oldLines: 0, newStart: 1, newLines: 4 }], 5],
    [9, [], 9],
  ])('%s past %j is at %s', (line, pieces, expected) => {
    expect(followLine(line, pieces)).toBe(expected)
  })

  test('pieces are read as git writes them', () => {
    const diff = '--- a/x\n+++ b/x\n@@ -3,0 +4,2 @@ f\n+@@ -1 +1 @@\n+b\n@@ -7 +9,0 @@\n-c\n'
    expect(readPieces(diff)).toEqual([
      { oldStart: 3, oldLines: 0, newStart: 4, newLines: 2 },
      { oldStart: 7, oldLines: 1, newStart: 9, newLines: 0 },
    ])
  })

  test('is found where a slow rewriting of the whole file finds it', () => {
    const edits = fc.array(
      fc.record({
        gap: fc.integer({ min: 1, max: 4 }),
        oldLines: fc.integer({ min: 0, max: 3 }),
        newLines: fc.integer({ min: 0, max: 3 }),
      }),
      {
        maxLength: 6,
      },
    )
    fc.assert(
      fc.property(edits, (told) => {
        const before = Array.from({ length: 60 }, (_, at) => at + 1)
        const after: (number | null)[] = []
        const pieces: ChangedPiece[] = []
        let at = 0
        for (const { gap, oldLines, newLines } of told) {
          if (oldLines === 0 && newLines === 0) continue
          after.push(...before.slice(at, at + gap))
          at += gap
          // Git names the line before an insertion, and the line before what a deletion leaves.
          pieces.push({
            oldStart: oldLines === 0 ? at : at + 1,
            oldLines,
            newStart: newLines === 0 ? after.length : after.length + 1,
            newLines,
          })
          after.push(...Array.from({ length: newLines }, () => null))
          at += oldLines
        }
        after.push(...before.slice(at))
        for (const line of before) {
          const found = after.indexOf(line)
          expect(followLine(line, pieces)).toBe(found < 0 ? null : found + 1)
        }
      }),
    )
  })
})
