/** A code host: where branches and pull requests live. The truth about commits always comes from git itself. */
export interface CodeHost {
  /** Creates a branch at the tip of another; succeeds when it is there already. Throws OutsideError. */
  createBranch(input: { repository: string; branch: string; from: string; by: string }): Promise<void>
  openPullRequest(input: { repository: string; head: string; by: string }): Promise<{ number: number }>
  mergePullRequest(input: { repository: string; number: number; by: string }): Promise<void>
  /** All pull requests, for when an event was missed. */
  listPullRequests(repository: string): Promise<OutsidePullRequest[]>
}
export interface OutsidePullRequest {
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
}
