import { carry } from './carry.js'
import { pushRef, type MergeInput, type MergeResult } from './merge.js'
import type { Outside } from './outward.js'
import { assertSha, runGit } from './run-git.js'

/** So many commits are made anew at most; a longer line is refused, and may be merged as it is. */
const COMMITS_MAX = 200

/**
 * Makes the commits of a line anew on top of a branch, each with its author and its message, and pushes the branch there if it still stands
 * where it stood. Merges within the line are left out, as git's own rebase leaves them; a commit whose
 * change is there already brings nothing. Nothing changes anywhere in a conflict.
 */
export async function rebaseAndPush(input: Omit<MergeInput, 'message' | 'method'>, outside: Outside): Promise<MergeResult> {
  const { dir, base, head, by, as = { branch: base.branch, expected: base.sha } } = input
  const range = `${assertSha(base.sha)}..${assertSha(head)}`
  const list = (await runGit(['rev-list', '--reverse', '--topo-order', '--no-merges', '--end-of-options', range], { dir })).toString('utf8')
  const shas = list.split('\n').filter((line) => line !== '')
  if (shas.length > COMMITS_MAX) return { kind: 'refused', why: `It has ${shas.length} commits; at most ${COMMITS_MAX} are made anew` }
  let onto = base.sha
  for (const sha of shas) {
    const { message, author } = await readCommit(dir, sha)
    const made = await carry({ dir, sha, how: 'pick', onto, message, by, author })
    if (made.kind === 'conflict') return made
    if (made.kind === 'made') onto = made.sha
  }
  return pushRef({ dir, url: input.url, access: input.access, ...as, sha: onto }, outside)
}

async function readCommit(dir: string, sha: string): Promise<{ message: string; author: { name: string; email: string; atMs: number } }> {
  const out = (
    await runGit(['show', '--no-patch', '--format=%an%x00%ae%x00%at%x00%B', '--end-of-options', assertSha(sha)], { dir })
  ).toString('utf8')
  const [name = '', email = '', at = '0', ...message] = out.split('\0')
  return { message: message.join('\0'), author: { name, email, atMs: Number(at) * 1000 } }
}
