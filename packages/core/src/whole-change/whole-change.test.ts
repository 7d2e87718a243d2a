import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { chooseCommits, type WorkCommit } from './choose-commits.js'
import { type FileStep, type Side, strandsOf } from './strands.js'

const side = (path: string, blob: string): Side => ({ path, blob, mode: '100644' })
const step = (sha: string, before: Side | null, after: Side | null): FileStep => ({ sha, before, after })

describe('strands', () => {
  test('steps with nothing between them are one change, also over a new name', () => {
    const steps = [step('1', null, side('a', 'x')), step('2', side('a', 'x'), side('a', 'y')), step('3', side('a', 'y'), side('b', 'y'))]
    expect(strandsOf(steps)).toEqual([{ before: null, after: side('b', 'y'), shas: ['1', '2', '3'], sheet: 0 }])
  })

  test('where somebody else changed the file in between, another sheet begins', () => {
    const steps = [
      step('1', side('a', 'x'), side('a', 'y')),
      step('2', side('a', 'their y'), side('a', 'z')),
      step('3', side('b', '1'), side('b', '2')),
    ]
    expect(strandsOf(steps).map(({ shas, sheet }) => [shas, sheet])).toEqual([
      [['1'], 0],
      [['2'], 1],
      [['3'], 0],
    ])
  })

  test('what was taken back is no change; a mode alone is one', () => {
    expect(strandsOf([step('1', side('a', 'x'), null), step('2', null, side('a', 'x'))])).toEqual([])
    expect(strandsOf([step('1', side('a', 'x'), { ...side('a', 'x'), mode: '100755' })])).toHaveLength(1)
  })

  test('a file and a folder of the same name stand on two sheets', () => {
    const steps = [step('1', side('a', 'x'), null), step('2', null, side('a/b', 'y')), step('3', null, side('c', 'z'))]
    expect(strandsOf(steps).map(({ sheet }) => sheet)).toEqual([0, 1, 0])
  })

  test('each goes from the tree before its first commit to the tree after its last; alone they make the whole', () => {
    const edit = fc.record({
      path: fc.constantFrom('a', 'b', 'c/d', 'c', 'c/e'),
      to: fc.constantFrom(null, 'b', 'c/e', 'f'),
      blob: fc.constantFrom('1', '2', '3', null),
      isOwn: fc.boolean(),
    })
    fc.assert(
      fc.property(fc.array(edit, { maxLength: 24 }), (edits) => {
        const trees: Map<string, string>[] = [new Map([['a', '1']])]
        const steps: FileStep[] = []
        const changeOf = (path: string, tree: Map<string, string>) => {
          const blob = tree.get(path)
          return blob === undefined ? null : side(path, blob)
        }
        for (const [at, { path, to, blob, isOwn }] of edits.entries()) {
          const tree = new Map(trees.at(-1))
          const before = changeOf(path, tree)
          // A new name is taken where nothing lies there; a file that is not there cannot be moved or deleted.
          const target = before !== null && to !== null && blob !== null && !tree.has(to) ? to : path
          if (blob === null) tree.delete(path)
          else {
            tree.delete(path)
            tree.set(target, blob)
          }
          trees.push(tree)
          const after = blob === null ? null : side(target, blob)
          if (isOwn && JSON.stringify(before) !== JSON.stringify(after)) steps.push(step(String(at), before, after))
        }
        const strands = strandsOf(steps)
        for (const { before, after, shas } of strands) {
          const first = trees[Number(shas[0])] ?? new Map<string, string>()
          const last = trees[Number(shas.at(-1)) + 1] ?? new Map<string, string>()
          if (before) expect(first.get(before.path)).toBe(before.blob)
          if (after) expect(last.get(after.path)).toBe(after.blob)
        }
        for (const sheet of new Set(strands.map((strand) => strand.sheet)))
          for (const end of ['before', 'after'] as const) {
            const paths = strands.filter((strand) => strand.sheet === sheet).flatMap((strand) => strand[end]?.path ?? [])
            expect(new Set(paths).size).toBe(paths.length)
            expect(paths.filter((path) => paths.some((other) => path.startsWith(`${other}/`)))).toEqual([])
          }
        if (edits.every(({ isOwn }) => isOwn)) {
          const whole = new Map(trees[0])
          for (const { before } of strands) if (before) whole.delete(before.path)
          for (const { after } of strands) if (after) whole.set(after.path, after.blob)
          expect([...whole].sort()).toEqual([...(trees.at(-1) ?? [])].sort())
        }
      }),
      { numRuns: 400 },
    )
  })
})

describe('which commits count', () => {
  const commit = (sha: string, more: Partial<WorkCommit> = {}): WorkCommit => ({
    sha,
    patchId: `patch of ${sha}`,
    isMerge: false,
    isOnMain: true,
    pullRequest: null,
    ...more,
  })
  test('a change that was made anew elsewhere counts once, on the main line before any other', () => {
    const commits = [commit('line', { patchId: 'p', isOnMain: false }), commit('main', { patchId: 'p' }), commit('other')]
    expect(chooseCommits(commits)).toEqual({ chosen: ['main', 'other'], leftOut: [{ sha: 'line', why: 'same', of: 'main' }] })
  })

  test('the commits of a branch do not count beside the one in which they came in, nor those that were given up, nor merges', () => {
    const merged = { number: 1, state: 'merged' } as const
    const { chosen, leftOut } = chooseCommits([
      commit('first', { isOnMain: false, pullRequest: merged }),
      commit('squash', { pullRequest: merged }),
      commit('gone', { isOnMain: false, pullRequest: { number: 2, state: 'closed' } }),
      commit('join', { isMerge: true, patchId: null }),
      commit('open', { isOnMain: false, pullRequest: { number: 3, state: 'open' } }),
    ])
    expect(chosen).toEqual(['squash', 'open'])
    expect(leftOut.map(({ sha, why }) => `${sha} ${why}`)).toEqual(['first squashed', 'gone given-up', 'join merge'])
  })

  test('of every commit it is said whether it counts; of a patch exactly one does', () => {
    const commits = fc
      .array(
        fc.record({
          patchId: fc.constantFrom('p', 'q', null),
          isMerge: fc.boolean(),
          isOnMain: fc.boolean(),
          pullRequest: fc.option(
            fc.record({ number: fc.nat(3), state: fc.constantFrom('open' as const, 'merged' as const, 'closed' as const) }),
          ),
        }),
        { maxLength: 12 },
      )
      .map((all) => all.map((each, at) => ({ ...each, sha: String(at) })))
    fc.assert(
      fc.property(commits, (all) => {
        const { chosen, leftOut } = chooseCommits(all)
        expect([...chosen, ...leftOut.map(({ sha }) => sha)].sort()).toEqual(all.map(({ sha }) => sha).sort())
        for (const patch of ['p', 'q']) {
          const of = chosen.filter((sha) => all[Number(sha)]?.patchId === patch)
          expect(of.length).toBeLessThanOrEqual(1)
          for (const { why, of: kept } of leftOut) if (why === 'same') expect(chosen).toContain(kept)
        }
      }),
    )
  })
})
