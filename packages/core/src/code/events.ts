/** A pull request as the code host told it; every telling carries the whole. */
export interface PullRequestBody {
  repository: string
  number: number
  title: string
  body: string
  state: 'open' | 'merged' | 'closed'
  author: string
  head: string
  base: string
  headSha: string
  mergeSha: string | null
  createdAtMs: number
  updatedAtMs: number
  version: number
  /** It lives here, of a repository that plain git alone reaches. */
  isOurs?: boolean
  /** It is not ready yet. */
  isDraft?: boolean
  /** Where the base stood before one that lives here was merged. */
  baseSha?: string | null
}

/** The journal's events of code and their bodies. */
export interface CodeEvents {
  'repository-added': { name: string; url: string; mainBranch: string }
  /** It is read no more; what was read of it stays. Added again it is read again. */
  'repository-disconnected': { name: string }
  /** Which branch is the main line, and which others live as long and count as well (docs/rules.md#main-line). */
  'main-lines-chosen': { name: string; mainBranch: string; longLines: string[] }
  'refs-moved': {
    repository: string
    moves: { ref: string; from: string | null; to: string | null; isForced: boolean }[]
    /** The newest of the commits that came with it; all of them where there is no count. */
    newCommits: string[]
    newCommitCount?: number
  }
  'pull-request-seen': PullRequestBody
}
