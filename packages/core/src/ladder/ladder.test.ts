import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { computeLadder } from './compute-ladder.js'
import { STAGES, stairOf, statesOfStair, type Stage, stageRank } from './ladder.js'
import type { LadderInput } from './ladder-input.js'
import { standOnParts, type LadderPart } from './parts.js'
import { judgeSilence } from './silence.js'

function anInput(parts: Partial<LadderInput> = {}): LadderInput {
  return {
    parts: [],
    logged: { by: 'person:ines', atMs: 1, cause: 'person', fault: null },
    accepted: null,
    started: null,
    branches: [],
    commits: [],
    pullRequests: [],
    fixes: [],
    production: [],
    containingReleases: [],
    verifyingTests: [],
    silences: [],
    verified: null,
    claims: [],
    baseline: null,
    rejected: null,
    ...parts,
  }
}
const act = { by: 'person:ines', atMs: 2 }
const pr = { repository: 'k', number: 1, state: 'open' as const, author: 'Ines', atMs: 3, build: null, reviews: [] }
const fix = { repository: 'k', patches: 1, patchesOnMain: 1, mainSha: 'abc', mainAtMs: 4, revertedBy: null, unaffected: null }
const run = { environment: 'production', service: 'k', release: '1.0.0', atMs: 5, containsFix: true, isRolledBack: false }
const silence = { fault: 'F-1', verdict: 'silent' as const, sinceMs: 5, neededMs: 10, exercised: 9, seenIn: null }
const stairFor = (parts: Partial<LadderInput>) => stairOf(computeLadder(anInput(parts)))

describe('computeLadder', () => {
  test.each([
    ['logged only', {}, 'logged', 'pwwwwww'],
    ['accepted', { accepted: act }, 'accepted', 'ppwwwww'],
    ['a branch', { accepted: act, branches: [{ repository: 'k', name: 'b', atMs: 1, isGone: false }] }, 'underway', 'pppwwww'],
    ['an open pull request', { accepted: act, started: act, pullRequests: [pr] }, 'in-review', 'ppppwww'],
    [
      'a closed one does not count',
      { accepted: act, started: act, pullRequests: [{ ...pr, state: 'closed' as const }] },
      'underway',
      'pppwwww',
    ],
    [
      'its build broke',
      { accepted: act, started: act, pullRequests: [{ ...pr, build: { number: 2, state: 'broke' as const, failed: 1, total: 9 } }] },
      'in-review',
      'pppxwww',
    ],
    ['merged', { accepted: act, started: act, pullRequests: [pr], fixes: [fix] }, 'merged', 'pppppww'],
    [
      'half of the fix merged',
      { accepted: act, started: act, pullRequests: [pr], fixes: [{ ...fix, patches: 2 }] },
      'in-review',
      'ppppaww',
    ],
    [
      'the fix was reverted',
      { accepted: act, started: act, pullRequests: [pr], fixes: [{ ...fix, patchesOnMain: 0, revertedBy: 'def' }] },
      'in-review',
      'ppppxww',
    ],
    [
      'two of three environments',
      { accepted: act, started: act, pullRequests: [pr], fixes: [fix], production: [run, run, { ...run, containsFix: false }] },
      'merged',
      'pppppaw',
    ],
    ['released', { accepted: act, started: act, pullRequests: [pr], fixes: [fix], production: [run] }, 'released', 'ppppppw'],
    [
      'rolled back',
      { accepted: act, started: act, pullRequests: [pr], fixes: [fix], production: [{ ...run, containsFix: false, isRolledBack: true }] },
      'merged',
      'pppppxw',
    ],
    [
      'silent',
      { accepted: act, started: act, pullRequests: [pr], fixes: [fix], production: [run], silences: [silence] },
      'verified',
      'ppppppp',
    ],
    ['no production at all', { accepted: act, started: act, pullRequests: [pr], fixes: [fix], production: null }, 'merged', 'pppppow'],
  ] as const)('%s', (_name, parts, stage, stair) => {
    const ladder = computeLadder(anInput(parts as Partial<LadderInput>))
    expect([ladder.stage, stairOf(ladder)]).toEqual([stage, stair])
  })

  test('a hotfix that runs but is not on main is Released with a hole, and the hole is drift', () => {
    const ladder = computeLadder(anInput({ accepted: act, started: act, fixes: [{ ...fix, patchesOnMain: 0 }], production: [run] }))
    expect(ladder.stage).toBe('released')
    expect(ladder.drift).toEqual([
      { code: 'hole', stage: 'in-review' },
      { code: 'hole', stage: 'merged' },
    ])
  })

  test('a fault seen again in a containing release contradicts even a person who verified', () => {
    const ladder = computeLadder(
      anInput({
        accepted: act,
        started: act,
        pullRequests: [pr],
        fixes: [fix],
        production: [run],
        verified: act,
        silences: [{ ...silence, verdict: 'seen-again', seenIn: { release: '1.0.1', environment: 'production', atMs: 9 } }],
      }),
    )
    expect(ladder).toMatchObject({ hasComeBack: true, stage: 'released' })
    expect(ladder.treads[6]?.evidence[0]).toMatchObject({ code: 'came-back', facts: { release: '1.0.1' } })
  })

  test('a claim above the evidence is drawn as claimed and listed as drift; evidence takes its place', () => {
    expect(stairFor({ claims: [{ ...act, stage: 'merged', accepted: null }] })).toBe('pwwwcww')
    expect(
      stairFor({ accepted: act, started: act, pullRequests: [pr], fixes: [fix], claims: [{ ...act, stage: 'merged', accepted: null }] }),
    ).toBe('pppppww')
  })

  test('the same evidence in any order gives the same stage, and the stair reads back', () => {
    const commits = [1, 2, 3, 4].map((number) => ({ repository: 'k', sha: `s${number}`, subject: 's', author: 'a', atMs: number }))
    fc.assert(
      fc.property(fc.shuffledSubarray(commits, { minLength: 4 }), fc.boolean(), (shuffled, isAccepted) => {
        const ladder = computeLadder(anInput({ commits: shuffled, accepted: isAccepted ? act : null }))
        expect(ladder.stage).toBe('underway')
        expect(statesOfStair(stairOf(ladder))).toEqual(ladder.treads.map((tread) => tread.state))
        expect(ladder.treads.map((tread) => tread.stage)).toEqual([...STAGES])
      }),
    )
  })
})

describe('judgeSilence', () => {
  const input = { nowMs: 1000, fixedSinceMs: 0, lastSeenInFixedRelease: null, neededMs: 500, exercisedSince: 30, requestsPerOccurrence: 10 }
  test.each([
    ['long enough and used enough', {}, 'silent'],
    ['too short', { nowMs: 400 }, 'judging'],
    ['not used enough', { exercisedSince: 29 }, 'judging'],
    ['not used at all', { exercisedSince: 0 }, 'cannot-judge'],
    ['not released', { fixedSinceMs: null }, 'judging'],
    ['seen again', { lastSeenInFixedRelease: { release: 'r', environment: 'e', atMs: 3 } }, 'seen-again'],
  ])('%s', (_name, parts, verdict) => expect(judgeSilence({ ...input, ...parts })).toBe(verdict))
})

describe('standOnParts', () => {
  const own = computeLadder(anInput({ accepted: act }))
  const part = (stage: Stage, change: Partial<LadderPart> = {}): LadderPart => ({
    key: 'EMB-2',
    stage,
    isRejected: false,
    hasComeBack: false,
    ...change,
  })

  test('a parent stands where its weakest open part stands and shows how many have come how far', () => {
    const ladder = standOnParts(own, [part('merged'), part('underway'), part('verified')])
    expect([ladder.stage, stairOf(ladder)]).toEqual(['underway', 'pppaaaa'])
    expect(ladder.treads[3]?.evidence[0]?.facts).toEqual({ reached: 2, of: 3 })
  })

  test('rejected parts do not count; with none left the parent keeps its own ladder', () => {
    expect(standOnParts(own, [part('merged'), part('logged', { isRejected: true })]).stage).toBe('merged')
    expect(standOnParts(own, [part('logged', { isRejected: true })])).toBe(own)
  })

  test('work on the parent itself counts as one part more', () => {
    const working = computeLadder(anInput({ accepted: act, started: act }))
    expect(standOnParts(working, [part('verified')]).stage).toBe('underway')
  })

  test('a claim that somebody who may stands for counts, where no evidence speaks against it', () => {
    const accepted = { ...act, words: 'done on paper' }
    const claims = [{ ...act, stage: 'merged' as const, accepted }]
    const ladder = computeLadder(anInput({ accepted: act, started: act, claims }))
    expect([stairOf(ladder), ladder.stage]).toEqual(['ppphpww', 'merged'])
    expect(ladder.treads[4]?.evidence.map(({ code }) => code)).toEqual(['claimed-by', 'claim-accepted', 'no-fix-yet'])
    expect(ladder.drift).toEqual([{ code: 'hole', stage: 'in-review' }])
  })

  test('what an item was imported as counts up to there, where nothing else is known, and is no drift', () => {
    const baseline = { ...act, stage: 'released' as const, words: 'Shipped' }
    const ladder = computeLadder(anInput({ baseline }))
    expect([ladder.stage, stairOf(ladder), ladder.drift]).toEqual(['released', 'ppppppw', []])
    expect(ladder.treads[5]?.evidence.at(-1)).toMatchObject({ code: 'imported-as', facts: { words: 'Shipped' } })
    // Evidence goes on above it, and what speaks against it is not hidden by it.
    expect(stairFor({ baseline, verified: { ...act, atMs: 9 } })).toBe('ppppppp')
    expect(stairFor({ baseline, fixes: [{ ...fix, patchesOnMain: 0, revertedBy: 'abc' }] })[4]).not.toBe('p')
    const logged = computeLadder(anInput({ baseline: { ...baseline, stage: 'logged', words: 'New' } }))
    expect([stairOf(logged), logged.treads[0]?.evidence.map(({ code }) => code)]).toEqual(['pwwwwww', ['logged-by', 'imported-as']])
  })

  test('a part that came back marks its parent; a claim stays drawn as a claim', () => {
    const claimed = computeLadder(anInput({ accepted: act, claims: [{ ...act, stage: 'released', accepted: null }] }))
    const ladder = standOnParts(claimed, [part('merged', { hasComeBack: true })])
    expect([ladder.hasComeBack, stairOf(ladder), ladder.drift]).toEqual([true, 'pppppcw', [{ code: 'claim', stage: 'released' }]])
  })

  test('the stage is the lowest of the parts that count, whatever their order', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.constantFrom(...STAGES), fc.boolean()), { minLength: 1 }), (drawn) => {
        const parts = drawn.map(([stage, isRejected]) => part(stage, { isRejected }))
        const counting = parts.filter((entry) => !entry.isRejected)
        const lowest = Math.min(...counting.map((entry) => stageRank(entry.stage)))
        const ladder = standOnParts(own, parts)
        expect(standOnParts(own, parts.toReversed())).toEqual(ladder)
        expect(ladder.stage).toBe(counting.length === 0 ? own.stage : STAGES[lowest])
      }),
    )
  })
})
