/** A commit that is tied to an item, or is of a pull request that is. */
export interface WorkCommit {
  sha: string
  /** Identity of the change itself (git patch-id); null for merges and empty commits. */
  patchId: string | null
  isMerge: boolean
  isOnMain: boolean
  /** The item's pull request that brings it. */
  pullRequest: { number: number; state: 'open' | 'merged' | 'closed' } | null
}

/** Why a commit adds nothing: it merges others, another has the same change, its branch came in as one commit, or was given up. */
export const LEFT_OUT = ['merge', 'same', 'squashed', 'given-up'] as const
/** A commit that adds nothing to the whole. */
export interface LeftOut {
  sha: string
  why: (typeof LEFT_OUT)[number]
  /** The commit that has the same change; for the others null. */
  of: string | null
}

/**
 * Which commits make up what was changed for an item, so that nothing counts twice: a change that was made anew on another line counts once
 * (the one on the main line before any other), the commits of a branch that came in as one commit do not count beside it, and neither do
 * those of a pull request that was closed. The order stays. Cost: O(commits).
 */
export function chooseCommits(commits: readonly WorkCommit[]): { chosen: string[]; leftOut: LeftOut[] } {
  const why = new Map<string, LeftOut>()
  for (const { sha, isMerge, isOnMain, pullRequest } of commits) {
    if (isMerge) why.set(sha, { sha, why: 'merge', of: null })
    else if (!isOnMain && pullRequest?.state === 'merged') why.set(sha, { sha, why: 'squashed', of: null })
    else if (!isOnMain && pullRequest?.state === 'closed') why.set(sha, { sha, why: 'given-up', of: null })
  }
  const byPatch = new Map<string, WorkCommit>()
  const worth = ({ isOnMain, pullRequest }: WorkCommit) => (isOnMain ? 2 : pullRequest?.state === 'open' ? 1 : 0)
  for (const commit of commits) {
    if (why.has(commit.sha) || commit.patchId === null) continue
    const known = byPatch.get(commit.patchId)
    if (known === undefined || worth(commit) > worth(known)) byPatch.set(commit.patchId, commit)
  }
  for (const { sha, patchId } of commits) {
    const kept = patchId === null ? undefined : byPatch.get(patchId)
    if (kept && kept.sha !== sha && !why.has(sha)) why.set(sha, { sha, why: 'same', of: kept.sha })
  }
  return {
    chosen: commits.filter(({ sha }) => !why.has(sha)).map(({ sha }) => sha),
    leftOut: commits.flatMap(({ sha }) => why.get(sha) ?? []),
  }
}
