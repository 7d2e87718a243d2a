import { z } from 'zod'
import { OutsideError } from '#platform/outside-error'
import type { CodeHost, OutsidePullRequest } from '#subjects/code/code-host'
import type { Deployer } from './deployer.js'

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

const TIMEOUT_MS = 15_000

/** The code host stand-in, reached over its small HTTP interface. */
export function makeHttpCodeHost(baseUrl: string): CodeHost {
  return {
    createBranch: async (input) => {
      await call(baseUrl, '/api/branches', input)
    },
    openPullRequest: async (input) => zPullRequest.parse(await call(baseUrl, '/api/pull-requests', input)),
    mergePullRequest: async (input) => {
      await call(baseUrl, '/api/merges', input)
    },
    listPullRequests: async (repository) =>
      z.array(zPullRequest).parse(await call(baseUrl, `/api/pull-requests?repository=${encodeURIComponent(repository)}`)),
  }
}

/** The deployer stand-in. */
export function makeHttpDeployer(baseUrl: string): Deployer {
  return {
    deploy: async (input) => {
      await call(baseUrl, '/api/deployments', input)
    },
  }
}

async function call(baseUrl: string, path: string, body?: unknown): Promise<unknown> {
  try {
    const response = await fetch(new URL(path, baseUrl), {
      signal: AbortSignal.timeout(TIMEOUT_MS),
      ...(body === undefined ? {} : { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
    })
    const text = await response.text()
    if (!response.ok) throw new OutsideError(`${path} answered ${response.status}: ${text.slice(0, 200)}`)
    return text === '' ? null : JSON.parse(text)
  } catch (error) {
    if (error instanceof OutsideError) throw error
    throw new OutsideError(`${path} did not answer: ${error instanceof Error ? error.message : String(error)}`, { cause: error })
  }
}
