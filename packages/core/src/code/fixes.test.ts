import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { CommitGraph, type GraphCommit } from './commit-graph.js'
import { compareTips } from './compare-tips.js'
import { patchStateAt } from './patch-state.js'

/** A name such as git gives, out of a short word. */
const named = (word: string) => Buffer.from(word).toString('hex').padEnd(40, '0')

function graphOf(commits: (Partial<GraphCommit> & { sha: string })[]): CommitGraph {
  const graph = new CommitGraph()
  for (const commit of commits) graph.add({ parents: [], patchId: null, reverts: [], ...commit })
  return graph
}

describe('patchStateAt', () => {
  const line = [
    { sha: named('a0'), patchId: named('A') },
    { sha: named('b0'), patchId: named('P'), parents: [named('a0')] },
  ]
  const revert = { sha: named('c0'), patchId: named('R'), parents: [named('b0')], reverts: [named('b0')] }

  test('a patch stands where one of its commits is reachable, whatever its hash', () => {
    const graph = graphOf([...line, { sha: named('x0'), patchId: named('P'), parents: [named('a0')] }])
    expect(patchStateAt(graph, named('a0'), named('P')).isIn).toBe(false)
    expect(patchStateAt(graph, named('b0'), named('P')).isIn).toBe(true)
    expect(patchStateAt(graph, named('x0'), named('P'))).toMatchObject({ isIn: true, carriers: [named('x0')] })
  })

  test('a revert takes it back, naming the revert; a revert of the revert restores it; a fresh pick restores it too', () => {
    const graph = graphOf([
      ...line,
      revert,
      { sha: named('d0'), patchId: named('Q'), parents: [named('c0')], reverts: [named('c0')] },
      { sha: named('e0'), patchId: named('P'), parents: [named('c0')] },
    ])
    expect(patchStateAt(graph, named('c0'), named('P'))).toMatchObject({ isIn: false, reverters: [named('c0')] })
    expect(patchStateAt(graph, named('d0'), named('P')).isIn).toBe(true)
    expect(patchStateAt(graph, named('e0'), named('P')).isIn).toBe(true)
  })

  test('reverting a merge takes back all that it brought, and nothing that was there before', () => {
    const graph = graphOf([
      { sha: named('a0'), patchId: named('A') },
      { sha: named('b1'), patchId: named('P'), parents: [named('a0')] },
      { sha: named('b2'), patchId: named('Q'), parents: [named('b1')] },
      { sha: named('m0'), parents: [named('a0'), named('b2')] },
      { sha: named('r0'), patchId: named('R'), parents: [named('m0')], reverts: [named('m0')] },
    ])
    expect([named('A'), named('P'), named('Q')].map((patch) => patchStateAt(graph, named('m0'), patch).isIn)).toEqual([true, true, true])
    expect([named('A'), named('P'), named('Q')].map((patch) => patchStateAt(graph, named('r0'), patch).isIn)).toEqual([true, false, false])
  })

  test('commits that claim to revert each other end', () => {
    const graph = graphOf([
      { sha: named('a0'), patchId: named('P'), reverts: [named('b0')] },
      { sha: named('b0'), patchId: named('Q'), parents: [named('a0')], reverts: [named('a0')] },
    ])
    expect(typeof patchStateAt(graph, named('b0'), named('P')).isIn).toBe('boolean')
  })
})

interface SlowCommit extends GraphCommit {
  parents: string[]
}
const nameOf = (index: number) => named(`s${String(index).padStart(2, '0')}`)
/** Random histories: parents are older commits, patches repeat, messages revert commits, merges and reverts. */
const arbHistory = fc
  .array(fc.record({ parents: fc.array(fc.nat(), { maxLength: 3 }), patch: fc.nat(3), reverts: fc.option(fc.nat()) }), {
    minLength: 1,
    maxLength: 24,
  })
  .map((shape) =>
    shape.map(
      ({ parents, patch, reverts }, index): SlowCommit => ({
        sha: nameOf(index),
        parents: index === 0 ? [] : [...new Set(parents.map((parent) => nameOf(parent % index)))],
        patchId: patch === 0 ? null : named(`p${patch}`),
        reverts: reverts === null || index === 0 ? [] : [nameOf(reverts % index)],
      }),
    ),
  )

/** The rule as it is written down, without any index: everything is looked up again by walking. */
function slowWorld(commits: readonly SlowCommit[]) {
  const bySha = new Map(commits.map((commit) => [commit.sha, commit]))
  const reach = (tip: string): Set<string> => {
    const seen = new Set<string>()
    const visit = (sha: string) => {
      if (seen.has(sha) || !bySha.has(sha)) return
      seen.add(sha)
      for (const parent of bySha.get(sha)?.parents ?? []) visit(parent)
    }
    visit(tip)
    return seen
  }
  const takes = (by: SlowCommit, sha: string, there: Set<string>) =>
    by.reverts.some((target) => {
      const [first, ...others] = bySha.get(target)?.parents ?? []
      if (!there.has(target)) return false
      if (target === sha) return true
      return others.length > 0 && others.some((other) => reach(other).has(sha)) && !reach(first ?? '').has(sha)
    })
  const stands = (sha: string, there: Set<string>, above: string[]): boolean =>
    !above.includes(sha) && !commits.some((by) => there.has(by.sha) && takes(by, sha, there) && stands(by.sha, there, [...above, sha]))
  const isIn = (tip: string, patchId: string) => {
    const there = reach(tip)
    return commits.some((commit) => commit.patchId === patchId && there.has(commit.sha) && stands(commit.sha, there, []))
  }
  return { reach, isIn }
}

describe('on random histories', () => {
  const given = fc.tuple(arbHistory, fc.infiniteStream(fc.nat()))
  /** The same commits, some of them heard of before their parents. */
  const shuffled = (commits: readonly SlowCommit[], dice: Iterator<number>) =>
    [...commits]
      .map((commit) => ({ commit, at: Number(dice.next().value) }))
      .sort((a, b) => a.at - b.at)
      .map(({ commit }) => commit)

  test('what is reachable equals a slow walk, in whatever order the commits came and whenever it is asked', () => {
    fc.assert(
      fc.property(given, ([commits, dice]) => {
        const slow = slowWorld(commits)
        const graph = new CommitGraph()
        const order = shuffled(commits, dice)
        for (const [count, commit] of order.entries()) {
          graph.add(commit)
          if (count % 5 === 0) graph.isReachable(nameOf(0), commit.sha)
        }
        for (const { sha } of commits) {
          expect([...graph.between([sha], [])].sort()).toEqual([...slow.reach(sha)].sort())
          for (const other of commits) expect(graph.isReachable(other.sha, sha)).toBe(slow.reach(sha).has(other.sha))
          const [one = '', two = ''] = order.map((commit) => commit.sha)
          const between = [...slow.reach(sha)].filter((each) => !slow.reach(one).has(each) && !slow.reach(two).has(each))
          expect([...graph.between([sha], [one, two])].sort()).toEqual(between.sort())
          expect(graph.get(sha)).toEqual(commits.find((commit) => commit.sha === sha))
        }
      }),
      { numRuns: 60 },
    )
  })

  test('a patch is in where the rule says so, also when commits come between two questions', () => {
    fc.assert(
      fc.property(given, ([commits, dice]) => {
        const graph = new CommitGraph()
        const added: SlowCommit[] = []
        for (const commit of Number(dice.next().value) % 2 === 0 ? commits : shuffled(commits, dice)) {
          graph.add(commit)
          added.push(commit)
          const slow = slowWorld(added)
          if (added.length % 4 !== 0 && added.length !== commits.length) continue
          for (const patchId of [named('p1'), named('p2'), named('p3')])
            for (const { sha } of added)
              expect([sha, patchId, patchStateAt(graph, sha, patchId).isIn]).toEqual([sha, patchId, slow.isIn(sha, patchId)])
        }
      }),
      { numRuns: 60 },
    )
  })

  test('a tip has against a base just the patches that are in effect here and not there', () => {
    fc.assert(
      fc.property(arbHistory, fc.nat(), fc.nat(), (commits, one, two) => {
        const graph = graphOf(commits)
        const [tip, base] = [nameOf(one % commits.length), nameOf(two % commits.length)]
        const slow = slowWorld(commits)
        const patches = [...new Set(commits.flatMap(({ patchId }) => patchId ?? []))]
        const difference = compareTips(graph, tip, base)
        const patchesOf = (shas: string[]) => shas.map((sha) => graph.get(sha)?.patchId).sort()
        expect(patchesOf(difference.added)).toEqual(patches.filter((patch) => slow.isIn(tip, patch) && !slow.isIn(base, patch)).sort())
        expect(patchesOf(difference.removed)).toEqual(patches.filter((patch) => slow.isIn(base, patch) && !slow.isIn(tip, patch)).sort())
        const back = compareTips(graph, base, tip)
        expect(patchesOf(back.removed)).toEqual(patchesOf(difference.added))
      }),
      { numRuns: 400 },
    )
  })

  test('a commit that both have may take back one that only the base has', () => {
    const commit = (sha: string, parents: string[], patchId: string | null, reverts: string[] = []) => ({ sha, parents, patchId, reverts })
    const graph = graphOf([
      commit(named('aa'), [], named('p1')),
      commit(named('bb'), [], null, [named('aa')]),
      commit(named('cc'), [named('aa'), named('bb')], null),
    ])
    expect(compareTips(graph, named('bb'), named('cc'))).toMatchObject({ added: [], removed: [] })
    expect(compareTips(graph, named('cc'), named('bb'))).toMatchObject({ added: [], undone: [named('aa')] })
  })

  test('more commits than one word has bits flow as well', () => {
    const graph = new CommitGraph()
    const shas = Array.from({ length: 80 }, (_, index) => nameOf(index))
    for (const [index, sha] of shas.entries())
      graph.add({ sha, parents: index === 0 ? [] : [nameOf(index - 1)], patchId: named('P'), reverts: [] })
    expect(patchStateAt(graph, nameOf(69), named('P')).carriers).toHaveLength(70)
    const flow = graph.flowOf(shas)
    expect(shas.filter((sha) => flow.has(nameOf(40), sha))).toHaveLength(41)
  })
})
