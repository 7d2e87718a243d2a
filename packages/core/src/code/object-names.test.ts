import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { CommitGraph, type GraphCommit } from './commit-graph.js'
import { NONE } from './chains.js'
import { ObjectNames } from './object-names.js'

/** Names of which many begin with the same bytes, so that their places in the table are taken by others. */
const arbName = fc
  .tuple(fc.constantFrom('00000000', '00000001', 'ffffffff'), fc.stringMatching(/^[0-9a-f]{32}$/), fc.integer({ min: 0, max: 3 }))
  .map(([head, tail, last]) => `${head}${tail.slice(0, 31)}${last}`)

describe('a table of object names', () => {
  test('numbers them as a map would, over every growth, and after it passed through a message', () => {
    fc.assert(
      fc.property(fc.array(arbName, { maxLength: 60 }), arbName, (some, other) => {
        const names = new ObjectNames()
        const map = new Map<string, number>()
        for (const name of some) {
          if (!map.has(name)) map.set(name, map.size)
          expect(names.add(name)).toBe(map.get(name))
        }
        for (const table of [names, ObjectNames.from(structuredClone(names.parts))]) {
          expect(table.size).toBe(map.size)
          for (const [name, number] of map) expect([table.numberOf(name), table.nameOf(number)]).toEqual([number, name])
          expect(table.numberOf(other)).toBe(map.get(other) ?? NONE)
        }
      }),
    )
    const many = new ObjectNames()
    const nameOf = (index: number) => ((index * 2_654_435_761) >>> 0).toString(16).padStart(8, '0').padEnd(64, '7')
    for (let index = 0; index < 10_000; index++) many.add(nameOf(index))
    expect([0, 1, 1023, 1024, 9_999].map((index) => many.numberOf(nameOf(index)))).toEqual([0, 1, 1023, 1024, 9_999])
    expect(many.nameOf(5_000)).toBe(nameOf(5_000))
  })

  test('refuses what is no name, and knows nothing of it', () => {
    const names = new ObjectNames()
    names.add('a'.repeat(40))
    for (const bad of ['', 'abc', 'A'.repeat(40), `${'a'.repeat(39)}g`, `${'a'.repeat(39)}ł`, 'a'.repeat(64)]) {
      expect(names.numberOf(bad)).toBe(NONE)
      expect(() => names.add(bad)).toThrow('not an object name')
    }
  })

  test('finds the one name that begins so, and none where several do', () => {
    fc.assert(
      fc.property(fc.array(arbName, { minLength: 1, maxLength: 12 }), fc.nat(), fc.integer({ min: 1, max: 40 }), (some, which, length) => {
        const names = new ObjectNames()
        for (const name of some) names.add(name)
        const prefix = (some[which % some.length] ?? '').slice(0, length)
        const fitting = [...new Set(some)].filter((name) => name.startsWith(prefix))
        expect(names.numberBeginning(prefix)).toBe(fitting.length === 1 ? names.numberOf(fitting[0] ?? '') : NONE)
      }),
    )
    expect(new ObjectNames().numberBeginning('not hexadecimal')).toBe(NONE)
  })
})

describe('a graph that was taken apart', () => {
  const arbHistory = fc
    .array(
      fc.record({
        parents: fc.uniqueArray(fc.nat(), { maxLength: 4 }),
        patch: fc.nat(5),
        isKept: fc.boolean(),
        reverts: fc.option(fc.nat()),
      }),
      { minLength: 1, maxLength: 30 },
    )
    .map((shape) => {
      const nameOf = (index: number) => index.toString(16).padStart(40, '0')
      const commits = shape.map(
        ({ parents, patch, reverts }, index): GraphCommit => ({
          sha: nameOf(index),
          parents: index === 0 ? [] : [...new Set(parents.map((parent) => nameOf(parent % index)))],
          patchId: patch === 0 ? null : nameOf(1000 + patch),
          reverts: reverts === null || index === 0 ? [] : [nameOf(reverts % index)],
        }),
      )
      return { commits, kept: commits.filter((_, index) => shape[index]?.isKept) }
    })

  test('answers as before once it is put together, and takes in what was missing', () => {
    fc.assert(
      fc.property(arbHistory, fc.boolean(), ({ commits, kept }, isTurned) => {
        const graph = new CommitGraph()
        const whole = new CommitGraph()
        for (const commit of isTurned ? kept.toReversed() : kept) graph.add(commit)
        const moved = CommitGraph.from(structuredClone(graph.takeApart()))
        for (const commit of commits) {
          whole.add(commit)
          moved.add(commit)
        }
        const shas = commits.map(({ sha }) => sha)
        expect(moved.size).toBe(whole.size)
        const [flow, wholeFlow] = [moved.flowOf(shas), whole.flowOf(shas)]
        for (const { sha, patchId } of commits) {
          expect(moved.get(sha)).toEqual(whole.get(sha))
          expect([...moved.between([sha], [])].sort()).toEqual([...whole.between([sha], [])].sort())
          if (patchId) expect([...moved.carriersOf(patchId)].sort()).toEqual([...whole.carriersOf(patchId)].sort())
          for (const other of shas) {
            expect(flow.has(sha, other)).toBe(wholeFlow.has(sha, other))
            expect(flow.has(sha, other)).toBe(whole.isReachable(other, sha))
          }
        }
      }),
      { numRuns: 60 },
    )
  })
})
