import type { Api } from '#platform/http/api'
import { listBuilds, readBuild } from './builds.views.js'
import { buildsOperations } from '@dystracer/core/builds/wire'

export function addBuildsRoutes(api: Api): void {
  api.handle(buildsOperations.listBuilds, ({ ctx, who, query }) => listBuilds(ctx, who, query))
  api.handle(buildsOperations.readBuild, ({ ctx, who, params }) => readBuild(ctx, who, params.repository, Number(params.number)))
}
