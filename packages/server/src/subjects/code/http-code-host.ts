import { z } from 'zod'
import { askOutside, type Outside } from '#platform/ask-outside'
import type { CodeHost, OutsidePullRequest } from './code-host.js'

const zPullRequest = z.object({
  repository: z.string(),
  number: z.number().int(),
  title: z.string(),
  body: z.string(),
  state: z.enum(['open', 'merged', 'closed']),
  author: z.string(),
  head: z.string(),
  base: z.string(),
  headSha: z.string(),
  mergeSha: z.string().nullable(),
  createdAtMs: z.number(),
  updatedAtMs: z.number(),
  version: z.number().int(),
}) satisfies z.ZodType<OutsidePullRequest>

/**
 * A code host behind its adapter, which speaks the small HTTP interface of docs/guides/write-an-adapter.md;
 * the stand-in is the first. Whether a repository lives there is told by how its address begins.
 */
export function makeHttpCodeHost(outside: Outside, servesFrom: string): CodeHost {
  return {
    serves: (url) => url.startsWith(servesFrom),
    createBranch: async (input) => {
      await askOutside(outside, '/api/branches', input)
    },
    openPullRequest: async (input) => zPullRequest.parse(await askOutside(outside, '/api/pull-requests', input)),
    mergePullRequest: async (input) => {
      await askOutside(outside, '/api/merges', input)
    },
    showStatus: async (status) => {
      await askOutside(outside, '/api/statuses', status)
    },
    listPullRequests: async (repository) =>
      z.array(zPullRequest).parse(await askOutside(outside, `/api/pull-requests?repository=${encodeURIComponent(repository)}`)),
  }
}
