import { beginRequirement, placeRequirement, restoreRequirement, retireRequirement, writeRequirement } from './requirements.commands.js'
import type { Api } from '#platform/http/api'
import { listRequirements, readRequirement } from './requirements.views.js'
import { requirementsOperations } from '@dystracer/core/requirements/wire'

export function addRequirementsRoutes(api: Api): void {
  api.handle(requirementsOperations.listRequirements, ({ ctx, who }) => ({ rows: listRequirements(ctx, who) }))
  api.handle(requirementsOperations.readRequirement, ({ ctx, who, params }) => readRequirement(ctx, who, params.key.toUpperCase()))
  api.handle(requirementsOperations.beginRequirement, ({ ctx, who, params, body }) =>
    readRequirement(ctx, who, beginRequirement(ctx, who, params.project, body)),
  )
  api.handle(requirementsOperations.writeRequirement, ({ ctx, who, params, body }) => {
    writeRequirement(ctx, who, params.key.toUpperCase(), body)
    return readRequirement(ctx, who, params.key.toUpperCase())
  })
  api.handle(requirementsOperations.placeRequirement, ({ ctx, who, params, body }) => {
    const key = params.key.toUpperCase()
    placeRequirement(ctx, who, key, body)
    return readRequirement(ctx, who, key)
  })
  api.handle(requirementsOperations.retireRequirement, ({ ctx, who, params, body }) => {
    const key = params.key.toUpperCase()
    retireRequirement(ctx, who, key, body.words)
    return readRequirement(ctx, who, key)
  })
  api.handle(requirementsOperations.restoreRequirement, ({ ctx, who, params }) => {
    const key = params.key.toUpperCase()
    restoreRequirement(ctx, who, key)
    return readRequirement(ctx, who, key)
  })
}
