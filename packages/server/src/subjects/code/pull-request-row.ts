import type { PullRequest } from '@dystracer/core/code/wire'

/** A pull request as its table holds it. */
export interface PullRequestRow {
  repository: string
  number: number
  title: string
  body: string
  state: PullRequest['state']
  author: string
  head: string
  base: string
  head_sha: string
  merge_sha: string | null
  created_at_ms: number
  updated_at_ms: number
  version: number
  is_ours: number
  base_sha: string | null
}
