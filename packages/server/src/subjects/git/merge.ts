import { assertSha, GitError, runGit } from './run-git.js'
import { goOut, type GitAccess, type Outside } from './outward.js'

/** What became of a merge: done and pushed, in conflict over files, or the base moved meanwhile. */
export type MergeResult =
  | { kind: 'merged'; sha: string }
  | { kind: 'conflict'; files: string[] }
  | { kind: 'moved' }
  | { kind: 'refused'; why: string }

export interface MergeInput {
  dir: string
  url: string
  access: GitAccess | null
  base: { branch: string; sha: string }
  head: string
  message: string
  /** `squash`: one commit on top of the base, with all that the head brings; `rebase` is `rebaseAndPush`. */
  method: 'merge' | 'squash' | 'rebase'
  by: { name: string; email: string }
  /** Where the result is pushed instead of the base: a branch that stands at `expected`, or is not there (null). */
  as?: { branch: string; expected: string | null }
}

/**
 * Merges a commit into a branch of the remote with git's own merge, in the mirror and without a work tree, and pushes the result only if
 * the branch still stands where it stood. Nothing changes anywhere unless it is merged.
 */
export async function mergeAndPush(
  { dir, url, access, base, head, message, method, by, as = { branch: base.branch, expected: base.sha } }: MergeInput,
  outside: Outside,
): Promise<MergeResult> {
  const merged = await mergeTrees(dir, assertSha(base.sha), assertSha(head))
  if (merged.kind === 'conflict') return merged
  const parents = method === 'merge' ? ['-p', base.sha, '-p', head] : ['-p', base.sha]
  const args = ['commit-tree', merged.tree, ...parents, '-F', '-']
  const sha = (await runGit(args, { dir, input: message, identity: by })).toString('utf8').trim()
  return pushRef({ dir, url, access, ...as, sha: assertSha(sha) }, outside)
}

/**
 * Pushes a commit as a branch, if that stands where it is expected; null expects that there is none. A branch
 * that is there already stays.
 */
export async function pushRef(
  input: { dir: string; url: string; access: GitAccess | null; branch: string; sha: string; expected: string | null },
  outside: Outside,
): Promise<MergeResult> {
  const { dir, url, branch, sha, expected } = input
  const ref = `refs/heads/${branch}`
  const lease = `--force-with-lease=${ref}:${expected === null ? '' : assertSha(expected)}`
  try {
    await goOut(outside, input, (options) =>
      runGit(['push', '--porcelain', lease, '--end-of-options', url, `${assertSha(sha)}:${ref}`], { dir, ...options, timeoutMs: 120_000 }),
    )
    return { kind: 'merged', sha }
  } catch (error) {
    if (!(error instanceof GitError)) throw error
    if (/stale info|fetch first|non-fast-forward/.test(`${error.stdout}${error.stderr}`)) return { kind: 'moved' }
    return { kind: 'refused', why: wordsOf(error) }
  }
}

/** Pushes a tag at a commit; one that is there already is not moved. */
export async function pushTag(
  input: { dir: string; url: string; access: GitAccess | null; tag: string; sha: string },
  outside: Outside,
): Promise<MergeResult> {
  const { dir, url, tag, sha } = input
  const ref = `refs/tags/${tag}`
  try {
    await goOut(outside, input, (options) =>
      runGit(['push', '--porcelain', `--force-with-lease=${ref}:`, '--end-of-options', url, `${assertSha(sha)}:${ref}`], {
        dir,
        ...options,
        timeoutMs: 120_000,
      }),
    )
    return { kind: 'merged', sha }
  } catch (error) {
    if (!(error instanceof GitError)) throw error
    if (/stale info|already exists|rejected/.test(`${error.stdout}${error.stderr}`) && !/remote:/.test(error.stderr))
      return { kind: 'moved' }
    return { kind: 'refused', why: wordsOf(error) }
  }
}

/** Takes a branch away, if it stands where it is expected. */
export async function deleteRef(
  input: { dir: string; url: string; access: GitAccess | null; branch: string; expected: string },
  outside: Outside,
): Promise<MergeResult> {
  const { dir, url, branch, expected } = input
  const ref = `refs/heads/${branch}`
  try {
    await goOut(outside, input, (options) =>
      runGit(['push', '--porcelain', `--force-with-lease=${ref}:${assertSha(expected)}`, '--end-of-options', url, `:${ref}`], {
        dir,
        ...options,
        timeoutMs: 120_000,
      }),
    )
    return { kind: 'merged', sha: expected }
  } catch (error) {
    if (!(error instanceof GitError)) throw error
    return { kind: 'refused', why: wordsOf(error) }
  }
}

/** What the remote itself said, if it said anything; else git's last line. */
function wordsOf(error: GitError): string {
  const lines = error.stderr.split('\n').map((line) => line.trim())
  const remote = lines.filter((line) => line.startsWith('remote:')).map((line) => line.slice(7).trim())
  return (remote.filter(Boolean).join(' ') || lines.findLast((line) => line !== '') || 'git gave no reason').slice(0, 300)
}

/** What a merge of two commits holds, or the files that conflict. */
export async function mergeTrees(
  dir: string,
  base: string,
  head: string,
): Promise<{ kind: 'clean'; tree: string } | { kind: 'conflict'; files: string[] }> {
  try {
    const out = await runGit(['merge-tree', '--write-tree', '--name-only', '--no-messages', '-z', base, head], { dir })
    return { kind: 'clean', tree: assertSha(out.toString('utf8').split('\0')[0] ?? '') }
  } catch (error) {
    // 1 is git's answer for conflicts: the tree, then the names of the files.
    if (!(error instanceof GitError && error.exitCode === 1)) throw error
    return { kind: 'conflict', files: [...new Set(error.stdout.split('\0').slice(1).filter(Boolean))] }
  }
}
