import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { nextStep, type BetweenCommit, type Verdict } from './bisect.js'

const line = (count: number): BetweenCommit[] =>
  Array.from({ length: count }, (_, at) => ({ sha: String(at), parents: at === 0 ? ['before'] : [String(at - 1)] }))

/** Builds until it is known; `isBad` answers, except of those that cannot be built. */
function search(commits: readonly BetweenCommit[], isBad: (sha: string) => boolean, untold: ReadonlySet<string> = new Set()) {
  const verdicts = new Map<string, Verdict>()
  for (;;) {
    const step = nextStep(commits, (sha) => verdicts.get(sha))
    if (step.kind === 'known') return { guilty: step.guilty, builds: verdicts.size }
    expect(verdicts.has(step.sha)).toBe(false)
    verdicts.set(step.sha, untold.has(step.sha) ? 'untold' : isBad(step.sha) ? 'bad' : 'good')
  }
}

/** A random history: each commit on top of one or two of those before it, the last on top of all that nothing is on top of. */
const history = fc.array(fc.tuple(fc.nat(), fc.option(fc.nat())), { minLength: 1, maxLength: 40 }).map((rows) => {
  const commits: BetweenCommit[] = rows.map(([first, second], at) => ({
    sha: String(at),
    parents: at === 0 ? ['before'] : [...new Set([first, second ?? first].map((number) => String(number % at)))],
  }))
  const covered = new Set(commits.flatMap(({ parents }) => parents))
  const tips = commits.filter(({ sha }) => !covered.has(sha)).map(({ sha }) => sha)
  return tips.length === 1 ? commits : [...commits, { sha: String(commits.length), parents: tips }]
})
function ancestorsOf(commits: readonly BetweenCommit[], sha: string): Set<string> {
  const all = new Set<string>()
  const visit = (one: string) => {
    if (all.has(one)) return
    all.add(one)
    for (const parent of commits.find((commit) => commit.sha === one)?.parents ?? []) visit(parent)
  }
  visit(sha)
  return all
}

describe('the commit that broke it', () => {
  test('is found on a line by halving', () => {
    for (const count of [1, 2, 3, 7, 100, 1000])
      for (const guilty of [0, Math.floor(count / 3), count - 1]) {
        const { guilty: found, builds } = search(line(count), (sha) => Number(sha) >= guilty)
        expect(found).toEqual([String(guilty)])
        expect(builds).toBeLessThanOrEqual(Math.ceil(Math.log2(count)))
      }
  })

  test('says how many are left and about how many builds tell which', () => {
    expect(nextStep(line(100), () => undefined)).toEqual({ kind: 'build', sha: '49', left: 100, steps: 7 })
    expect(nextStep(line(2), () => undefined)).toEqual({ kind: 'build', sha: '0', left: 2, steps: 1 })
    expect(nextStep([], () => undefined)).toEqual({ kind: 'known', guilty: [] })
  })

  test('is found in any history, whichever it is', () => {
    fc.assert(
      fc.property(history, fc.nat(), (commits, pick) => {
        const guilty = String(pick % commits.length)
        const { guilty: found } = search(commits, (sha) => ancestorsOf(commits, sha).has(guilty))
        expect(found).toEqual([guilty])
      }),
      { numRuns: 300 },
    )
  })

  test('is among those left where some cannot be built, and none of them that could be built tells more', () => {
    fc.assert(
      fc.property(history, fc.nat(), fc.func(fc.boolean()), (commits, pick, hides) => {
        const guilty = String(pick % commits.length)
        const untold = new Set(commits.map(({ sha }) => sha).filter((sha) => hides(sha)))
        const isBad = (sha: string) => ancestorsOf(commits, sha).has(guilty)
        const { guilty: found } = search(commits, isBad, untold)
        expect(found).toContain(guilty)
        for (const built of found) if (!untold.has(built)) expect([...ancestorsOf(commits, built)]).toEqual(expect.arrayContaining(found))
      }),
      { numRuns: 200 },
    )
  })
})
