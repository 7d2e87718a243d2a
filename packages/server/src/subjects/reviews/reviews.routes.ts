import { codeOperations } from '@dystracer/core/code/wire'
import type { Api } from '#platform/http/api'
import { changePullRequest, mergePullRequest, openPullRequest } from './pull-requests.commands.js'

/** `sync` looks at a repository at once into which was merged. */
export function addReviewsRoutes(api: Api, { sync }: { sync: { request(repository: string, cause: string): Promise<void> } }): void {
  api.handle(codeOperations.openPullRequest, ({ ctx, who, body }) => openPullRequest(ctx, who, body))
  api.handle(codeOperations.changePullRequest, ({ ctx, who, params, body }) => changePullRequest(ctx, who, { ...params, ...body }))
  api.handle(codeOperations.mergePullRequest, async ({ ctx, who, params }) => {
    await mergePullRequest(ctx, who, params)
    await sync.request(params.repository, 'merged here')
    return {}
  })
}
