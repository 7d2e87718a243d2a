import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { CommitGraph, type GraphCommit } from './commit-graph.js'
import { patchStateAt } from './patch-state.js'

function graphOf(commits: (Partial<GraphCommit> & { sha: string })[]): CommitGraph {
  const graph = new CommitGraph()
  for (const commit of commits) graph.add({ parents: [], patchId: null, reverts: [], ...commit })
  return graph
}

describe('patchStateAt', () => {
  const line = [
    { sha: 'a0', patchId: 'A' },
    { sha: 'b0', patchId: 'P', parents: ['a0'] },
  ]
  const revert = { sha: 'c0', patchId: 'R', parents: ['b0'], reverts: ['b0'] }

  test('a patch stands where one of its commits is reachable, whatever its hash', () => {
    const graph = graphOf([...line, { sha: 'x0', patchId: 'P', parents: ['a0'] }])
    expect(patchStateAt(graph, 'a0', 'P').isIn).toBe(false)
    expect(patchStateAt(graph, 'b0', 'P').isIn).toBe(true)
    expect(patchStateAt(graph, 'x0', 'P')).toMatchObject({ isIn: true, carriers: ['x0'] })
  })

  test('a revert takes it back, naming the revert; a revert of the revert restores it; a fresh pick restores it too', () => {
    const graph = graphOf([
      ...line,
      revert,
      { sha: 'd0', patchId: 'Q', parents: ['c0'], reverts: ['c0'] },
      { sha: 'e0', patchId: 'P', parents: ['c0'] },
    ])
    expect(patchStateAt(graph, 'c0', 'P')).toMatchObject({ isIn: false, reverters: ['c0'] })
    expect(patchStateAt(graph, 'd0', 'P').isIn).toBe(true)
    expect(patchStateAt(graph, 'e0', 'P').isIn).toBe(true)
  })

  test('reverting a merge takes back all that it brought, and nothing that was there before', () => {
    const graph = graphOf([
      { sha: 'a0', patchId: 'A' },
      { sha: 'b1', patchId: 'P', parents: ['a0'] },
      { sha: 'b2', patchId: 'Q', parents: ['b1'] },
      { sha: 'm0', parents: ['a0', 'b2'] },
      { sha: 'r0', patchId: 'R', parents: ['m0'], reverts: ['m0'] },
    ])
    expect(['A', 'P', 'Q'].map((patch) => patchStateAt(graph, 'm0', patch).isIn)).toEqual([true, true, true])
    expect(['A', 'P', 'Q'].map((patch) => patchStateAt(graph, 'r0', patch).isIn)).toEqual([true, false, false])
  })

  test('commits that claim to revert each other end', () => {
    const graph = graphOf([
      { sha: 'a0', patchId: 'P', reverts: ['b0'] },
      { sha: 'b0', patchId: 'Q', parents: ['a0'], reverts: ['a0'] },
    ])
    expect(typeof patchStateAt(graph, 'b0', 'P').isIn).toBe('boolean')
  })
})

test('reachability equals a slow walk on random graphs', () => {
  fc.assert(
    fc.property(fc.array(fc.array(fc.nat(), { maxLength: 3 }), { minLength: 1, maxLength: 30 }), (shape) => {
      const commits = shape.map((parents, index) => ({
        sha: `s${index}`,
        parents: index === 0 ? [] : [...new Set(parents.map((parent) => `s${parent % index}`))],
      }))
      const graph = graphOf(commits)
      const slow = (tip: string): Set<string> =>
        new Set([tip, ...(commits.find((commit) => commit.sha === tip)?.parents ?? []).flatMap((parent) => [...slow(parent)])])
      const tip = `s${commits.length - 1}`
      expect([...graph.reachableFrom(tip)].sort()).toEqual([...slow(tip)].sort())
    }),
    { numRuns: 40 },
  )
})
