import { findingsOperations } from '@dystracer/core/findings/wire'
import type { Api } from '#platform/http/api'
import { setFindingAside } from './findings.commands.js'
import { listAsideFindings } from './findings.views.js'

export function addFindingsRoutes(api: Api): void {
  api.handle(findingsOperations.setFindingAside, ({ ctx, who, params, body }) => {
    setFindingAside(ctx, who, params.repository, body)
    return {}
  })
  api.handle(findingsOperations.listAsideFindings, ({ ctx, who }) => ({ rows: listAsideFindings(ctx, who) }))
}
