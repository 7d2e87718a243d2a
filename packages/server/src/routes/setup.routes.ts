import { z } from 'zod'
import {
  type ProjectSetup,
  zProjectSetup,
  zColourLabel,
  zOrderFields,
  zSetLimit,
  zSetMilestone,
  zSetPublicForm,
  zSetStageRule,
} from '@dystracer/core/setup/wire'
import { zPublicReport, zReported } from '@dystracer/core/incoming/wire'
import { zItemTypeDefinition } from '@dystracer/core/setup/item-type'
import { zOwnField } from '@dystracer/core/setup/own-field'
import { RateLimit } from '#platform/http/rate-limit'
import { readPublicForm, receivePublicReport } from '#subjects/incoming/mail-and-form.commands'
import {
  colourLabel,
  defineOwnField,
  defineType,
  orderOwnFields,
  readSetup,
  removeMilestone,
  removeOwnField,
  removeType,
  setLimit,
  setMilestone,
  setPublicForm,
  setStageRule,
} from '#subjects/setup/setup.commands'
import type { Who } from '#subjects/people/access'
import type { ServiceContext } from '#platform/context'
import type { Api } from '#platform/http/api'

/** A handler that changes how the project of the path is set up and answers with all of it. */
function thenSetup<Body>(change: (ctx: ServiceContext, who: Who, project: string, body: Body) => void) {
  return ({ ctx, who, params, body }: { ctx: ServiceContext; who: Who; params: Record<string, string>; body: Body }): ProjectSetup => {
    change(ctx, who, params.project ?? '', body)
    return readSetup(ctx.db, params.project ?? '')
  }
}

/** How a project is set up, and its public form. */
export function addSetupRoutes(api: Api): void {
  api.add({
    method: 'get',
    path: '/projects/:project/setup',
    summary: 'Types, own fields, rules',
    answer: zProjectSetup,
    handle: ({ ctx, params }) => readSetup(ctx.db, params.project ?? ''),
  })
  api.add({
    method: 'put',
    path: '/projects/:project/types',
    summary: 'Define a type, with its template and the fields that it shows',
    body: zItemTypeDefinition,
    answer: zProjectSetup,
    handle: thenSetup(defineType),
  })
  api.add({
    method: 'put',
    path: '/projects/:project/fields',
    summary: 'Define an own field',
    body: zOwnField,
    answer: zProjectSetup,
    handle: thenSetup(defineOwnField),
  })
  api.add({
    method: 'put',
    path: '/projects/:project/stage-rules',
    summary: 'Say what must be filled before a stage',
    body: zSetStageRule,
    answer: zProjectSetup,
    handle: thenSetup(setStageRule),
  })
  api.add({
    method: 'put',
    path: '/projects/:project/public-form',
    summary: 'Switch the public form on or off',
    body: zSetPublicForm,
    answer: zProjectSetup,
    handle: thenSetup((ctx, who, project, body) => setPublicForm(ctx, who, project, body.isOn)),
  })
  api.add({
    method: 'put',
    path: '/projects/:project/limits',
    summary: 'Say how many cards a board’s column should hold at most',
    body: zSetLimit,
    answer: zProjectSetup,
    handle: thenSetup(setLimit),
  })
  api.add({
    method: 'delete',
    path: '/projects/:project/types/:type',
    summary: 'Remove an own type, or put a standard one back as it comes',
    answer: zProjectSetup,
    handle: ({ ctx, who, params }) => {
      removeType(ctx, who, params.project ?? '', params.type ?? '')
      return readSetup(ctx.db, params.project ?? '')
    },
  })
  api.add({
    method: 'delete',
    path: '/projects/:project/fields/:fieldId',
    summary: 'Take an own field off the forms',
    answer: zProjectSetup,
    handle: ({ ctx, who, params }) => {
      removeOwnField(ctx, who, params.project ?? '', params.fieldId ?? '')
      return readSetup(ctx.db, params.project ?? '')
    },
  })
  api.add({
    method: 'delete',
    path: '/projects/:project/milestones/:name',
    summary: 'Remove a milestone that no item is planned for',
    answer: zProjectSetup,
    handle: ({ ctx, who, params }) => {
      removeMilestone(ctx, who, params.project ?? '', params.name ?? '')
      return readSetup(ctx.db, params.project ?? '')
    },
  })
  api.add({
    method: 'put',
    path: '/projects/:project/field-order',
    summary: 'Put the own fields in order',
    body: zOrderFields,
    answer: zProjectSetup,
    handle: thenSetup(orderOwnFields),
  })
  api.add({
    method: 'put',
    path: '/projects/:project/milestones',
    summary: 'Set up a milestone, or change it',
    body: zSetMilestone,
    answer: zProjectSetup,
    handle: thenSetup(setMilestone),
  })
  api.add({
    method: 'put',
    path: '/projects/:project/labels',
    summary: 'Give a label another colour',
    body: zColourLabel,
    answer: zProjectSetup,
    handle: thenSetup(colourLabel),
  })
  const byAddress = new RateLimit({ burst: 5, perMinute: 3 })
  const ofAll = new RateLimit({ burst: 60, perMinute: 60 })
  api.add({
    method: 'get',
    path: '/public/:project/form',
    summary: 'What the public form asks, where it is switched on',
    answer: z.object({ name: z.string(), components: z.array(z.string()) }),
    isPublic: true,
    handle: ({ ctx, params }) => readPublicForm(ctx, params.project ?? ''),
  })
  api.add({
    method: 'post',
    path: '/public/:project/reports',
    summary: 'Report something without an account',
    body: zPublicReport,
    answer: zReported,
    isPublic: true,
    handle: ({ ctx, params, body, koa }) => {
      byAddress.take(koa.ip, ctx.nowMs())
      ofAll.take('all', ctx.nowMs())
      koa.status = 201
      return receivePublicReport(ctx, params.project ?? '', body)
    },
  })
}
