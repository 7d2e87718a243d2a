import type { PullRequestBody } from '@dystracer/core/code/events'
import type { ChangeStatus } from '@dystracer/core/code/change-status'

/** A code host: where branches and pull requests live. The truth about commits always comes from git itself. */
export interface CodeHost {
  /** Whether the repository at this address lives there. */
  serves(url: string): boolean
  /** Creates a branch at the tip of another; succeeds when it is there already. Throws OutsideError. */
  createBranch(input: { repository: string; branch: string; from: string; by: string }): Promise<void>
  /** Into the main line where no `base` is said. */
  openPullRequest(input: { repository: string; head: string; base?: string; by: string }): Promise<{ number: number }>
  mergePullRequest(input: { repository: string; number: number; by: string }): Promise<void>
  /** Shows what Dystracer knows of a pull request, in place of what it was told before. Throws OutsideError. */
  showStatus(status: ChangeStatus): Promise<void>
  /** All pull requests, for when an event was missed. */
  listPullRequests(repository: string): Promise<OutsidePullRequest[]>
}
/** A pull request as its host tells it: what the journal keeps of it. */
export type OutsidePullRequest = PullRequestBody
