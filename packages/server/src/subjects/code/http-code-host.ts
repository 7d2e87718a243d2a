import { z } from 'zod'
import { askOutside } from '#platform/ask-outside'
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

/** The code host stand-in, reached over its small HTTP interface. */
export function makeHttpCodeHost(baseUrl: string): CodeHost {
  return {
    // The addresses of what lives there are kept without where it is reached.
    serves: (url) => url.startsWith('outside:'),
    createBranch: async (input) => {
      await askOutside(baseUrl, '/api/branches', input)
    },
    openPullRequest: async (input) => zPullRequest.parse(await askOutside(baseUrl, '/api/pull-requests', input)),
    mergePullRequest: async (input) => {
      await askOutside(baseUrl, '/api/merges', input)
    },
    listPullRequests: async (repository) =>
      z.array(zPullRequest).parse(await askOutside(baseUrl, `/api/pull-requests?repository=${encodeURIComponent(repository)}`)),
  }
}
