import { buildMachinesOperations } from '@dystracer/core/build-machines/wire'
import type { Api } from '#platform/http/api'
import { listWantedBuilds, readBuildDescription } from './build-machines.views.js'
import { planOfText } from './descriptions.js'
import { proposeBuildDescription, stopWantedBuild, wantBuild } from './wanted.commands.js'

export function addBuildMachinesRoutes(api: Api, { sync }: { sync: { request(repository: string, cause: string): Promise<void> } }): void {
  api.handle(buildMachinesOperations.listWantedBuilds, ({ ctx, who, query }) => listWantedBuilds(ctx, who, query))
  api.handle(buildMachinesOperations.wantBuild, ({ ctx, who, params, body }) => wantBuild(ctx, who, params.repository, body))
  api.handle(buildMachinesOperations.stopWantedBuild, ({ ctx, who, params }) =>
    stopWantedBuild(ctx, who, params.repository, params.wantedId),
  )
  api.handle(buildMachinesOperations.readBuildDescription, ({ ctx, params, query }) => readBuildDescription(ctx, params.repository, query))
  api.handle(buildMachinesOperations.tryBuildDescription, async ({ ctx, params, body }) => {
    const { problems, plan } = await planOfText(ctx, params.repository, body.text)
    return { problems, plan }
  })
  api.handle(buildMachinesOperations.proposeBuildDescription, ({ ctx, who, params, body }) =>
    proposeBuildDescription(ctx, who, { repository: params.repository, ...body }, (repository) =>
      sync.request(repository, 'a proposed file'),
    ),
  )
}
