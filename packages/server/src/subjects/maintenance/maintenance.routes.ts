import { maintenanceOperations } from '@dystracer/core/maintenance/wire'
import type { Api } from '#platform/http/api'
import { makePicks } from './maintenance.commands.js'
import { readMaintenanceLine, tryPicks } from './maintenance.views.js'

/** `sync` looks at a repository at once whose line was pushed. */
export function addMaintenanceRoutes(api: Api, { sync }: { sync: { request(repository: string, cause: string): Promise<void> } }): void {
  api.handle(maintenanceOperations.readMaintenanceLine, ({ ctx, who, params, query }) =>
    readMaintenanceLine(ctx, who, params.release, query.branch),
  )
  api.handle(maintenanceOperations.tryPicks, ({ ctx, params, body }) => tryPicks(ctx, params.release, body))
  api.handle(maintenanceOperations.makePicks, ({ ctx, who, params, body }) =>
    makePicks(ctx, who, params.release, body, (repository) => sync.request(repository, 'a maintenance line was pushed')),
  )
}
