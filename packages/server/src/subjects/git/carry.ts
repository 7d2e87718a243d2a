import { mergeTrees, pushRef, type MergeResult } from './merge.js'
import type { GitAccess, Outside } from './outward.js'
import { assertSha, runGit } from './run-git.js'

export interface CarryInput {
  dir: string
  url: string
  access: GitAccess | null
  /** The commit whose change is made anew, or taken back; of a merge, what it brought to its first parent. */
  sha: string
  how: 'pick' | 'revert'
  onto: string
  /** The branch that is pushed; there must be none of this name. */
  branch: string
  message: string
  by: { name: string; email: string }
  /** Whose work it stays; null for a commit that is `by`'s own. */
  author: { name: string; email: string; atMs: number } | null
}

/** What became of it; `nothing`: the line has the change already, or never had what is to be taken back. */
export type CarryResult = MergeResult | { kind: 'nothing' }

/**
 * Makes the change of one commit anew on another line, or takes it back there, with git's own three-way merge and without a work tree, and
 * pushes the result as a new branch. Nothing changes anywhere in a conflict. Since git 2.39 takes no merge base by hand, the three states
 * are given as commits made for the purpose, whose base is the state before.
 */
export async function carryAndPush(input: CarryInput, outside: Outside): Promise<CarryResult> {
  const made = await carry(input)
  if (made.kind !== 'made') return made
  return pushRef({ dir: input.dir, url: input.url, access: input.access, branch: input.branch, sha: made.sha, expected: null }, outside)
}

/** The same without the push: the commit that it makes. */
export async function carry(
  input: Pick<CarryInput, 'dir' | 'sha' | 'how' | 'onto' | 'message' | 'by' | 'author'>,
): Promise<{ kind: 'made'; sha: string } | { kind: 'nothing' } | { kind: 'conflict'; files: string[] }> {
  const { dir, how, message, by, author } = input
  const sha = assertSha(input.sha)
  const onto = assertSha(input.onto)
  const parent = await firstParentOf(dir, sha)
  const [tree = '', ontoTree = '', parentTree = EMPTY_TREE] = await treesOf(dir, [sha, onto, ...(parent === null ? [] : [parent])])
  const [before, after] = how === 'pick' ? [parentTree, tree] : [tree, parentTree]
  const base = await commitOf(dir, before, [], by)
  const [ours, theirs] = await Promise.all([commitOf(dir, ontoTree, [base], by), commitOf(dir, after, [base], by)])
  const merged = await mergeTrees(dir, ours, theirs)
  if (merged.kind === 'conflict') return merged
  if (merged.tree === ontoTree) return { kind: 'nothing' }
  const args = ['commit-tree', merged.tree, '-p', onto, '-F', '-']
  const made = await runGit(args, { dir, input: message, identity: by, ...(author && { author }) })
  return { kind: 'made', sha: assertSha(made.toString('utf8').trim()) }
}

/** The tree of nothing, for a commit that begins a history. */
const EMPTY_TREE = '4b825dc642cb6eb9a060e54bf8d69288fbee4904'

async function firstParentOf(dir: string, sha: string): Promise<string | null> {
  const out = await runGit(['rev-list', '--parents', '-n', '1', sha], { dir })
  const parent = out.toString('utf8').trim().split(' ')[1]
  return parent === undefined ? null : assertSha(parent)
}

/** The trees of commits, each a hash that was checked. */
async function treesOf(dir: string, shas: readonly string[]): Promise<string[]> {
  const out = await runGit(['rev-parse', ...shas.map((sha) => `${assertSha(sha)}^{tree}`)], { dir })
  return out.toString('utf8').trim().split('\n').map(assertSha)
}

async function commitOf(dir: string, tree: string, parents: readonly string[], identity: { name: string; email: string }): Promise<string> {
  const args = ['commit-tree', tree, ...parents.flatMap((parent) => ['-p', parent]), '-m', 'carried']
  return assertSha((await runGit(args, { dir, identity })).toString('utf8').trim())
}
