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

/** What brings releases into environments. Its answer means "asked"; the deployment's event tells that it runs. */
export interface Deployer {
  deploy(input: { deploymentId: string; service: string; release: string; tag: string; sha: string; environment: string; by: string }): Promise<void>
}

export interface OutgoingMail {
  to: string
  subject: string
  text: string
  html?: string
  messageId?: string
  /** The first message of the thread, so that mail programs keep an item's messages together. */
  inReplyTo?: string
  references?: string
  replyTo?: string
  headers?: Record<string, string>
}

export interface Mailer {
  send(mail: OutgoingMail): Promise<void>
}

/** The outside service refused or did not answer; the message says which and why. */
export class OutsideError extends Error {}
