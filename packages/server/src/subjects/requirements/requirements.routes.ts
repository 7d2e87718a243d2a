import { agreeBaseline, compareBaseline, listBaselines, makeBaseline, withdrawBaseline } from './baselines.commands.js'
import { agreeGap, listGaps, reopenGap } from './gaps.commands.js'
import {
  beginRequirement,
  confirmLinks,
  placeRequirement,
  joinRequirement,
  restoreRequirement,
  splitRequirement,
  retireRequirement,
  writeRequirement,
} from './requirements.commands.js'
import type { Api } from '#platform/http/api'
import { listRequirements, readRequirement } from './requirements.views.js'
import { baselinesOperations } from '@dystracer/core/requirements/baselines-wire'
import { gapsOperations } from '@dystracer/core/requirements/gaps-wire'
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
  api.handle(requirementsOperations.confirmLinks, ({ ctx, who, params, body }) => {
    confirmLinks(ctx, who, params.key.toUpperCase(), body)
    return readRequirement(ctx, who, params.key.toUpperCase())
  })
  api.handle(baselinesOperations.listBaselines, ({ ctx, params }) => listBaselines(ctx, params.project))
  api.handle(baselinesOperations.makeBaseline, ({ ctx, who, params, body }) => {
    makeBaseline(ctx, who, params.project, body)
    return listBaselines(ctx, params.project)
  })
  api.handle(baselinesOperations.compareBaseline, ({ ctx, who, params, query }) =>
    compareBaseline(ctx, who, params.project, params.baselineId, query.with),
  )
  api.handle(baselinesOperations.agreeBaseline, ({ ctx, who, params }) => {
    agreeBaseline(ctx, who, params.project, params.baselineId)
    return listBaselines(ctx, params.project)
  })
  api.handle(baselinesOperations.withdrawBaseline, ({ ctx, who, params, body }) => {
    withdrawBaseline(ctx, who, params.project, params.baselineId, body.words)
    return listBaselines(ctx, params.project)
  })
  api.handle(gapsOperations.listGaps, ({ ctx, who, params }) => listGaps(ctx, who, params.project))
  api.handle(gapsOperations.agreeGap, ({ ctx, who, params, body }) => {
    agreeGap(ctx, who, params.project, body)
    return listGaps(ctx, who, params.project)
  })
  api.handle(gapsOperations.reopenGap, ({ ctx, who, params, query }) => {
    reopenGap(ctx, who, params.project, query)
    return listGaps(ctx, who, params.project)
  })
  api.handle(requirementsOperations.placeRequirement, ({ ctx, who, params, body }) => {
    const key = params.key.toUpperCase()
    placeRequirement(ctx, who, key, body)
    return readRequirement(ctx, who, key)
  })
  api.handle(requirementsOperations.splitRequirement, ({ ctx, who, params, body }) =>
    readRequirement(ctx, who, splitRequirement(ctx, who, params.key.toUpperCase(), body)),
  )
  api.handle(requirementsOperations.joinRequirement, ({ ctx, who, params, body }) => {
    joinRequirement(ctx, who, params.key.toUpperCase(), body)
    return readRequirement(ctx, who, body.to)
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
