import { z } from 'zod'
import { zEmpty } from '@dystracer/core/contract/common'
import { zProjectSetup, zPublicReport, zSetPublicForm, zSetStageRule } from '@dystracer/core/contract/items'
import { zItemTypeDefinition } from '@dystracer/core/items/item-type'
import { zOwnField } from '@dystracer/core/items/own-field'
import { RateLimit } from '../middleware/rate-limit.js'
import { readPublicForm, receivePublicReport } from '../services/incoming.service.js'
import { defineOwnField, defineType, readSetup, setPublicForm, setStageRule } from '../services/setup.service.js'
import type { Api } from './api.js'

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
    handle: ({ ctx, who, params, body }) => {
      defineType(ctx, who, params.project ?? '', body)
      return readSetup(ctx.db, params.project ?? '')
    },
  })
  api.add({
    method: 'put',
    path: '/projects/:project/fields',
    summary: 'Define an own field',
    body: zOwnField,
    answer: zProjectSetup,
    handle: ({ ctx, who, params, body }) => {
      defineOwnField(ctx, who, params.project ?? '', body)
      return readSetup(ctx.db, params.project ?? '')
    },
  })
  api.add({
    method: 'put',
    path: '/projects/:project/stage-rules',
    summary: 'Say what must be filled before a stage',
    body: zSetStageRule,
    answer: zProjectSetup,
    handle: ({ ctx, who, params, body }) => {
      setStageRule(ctx, who, params.project ?? '', body)
      return readSetup(ctx.db, params.project ?? '')
    },
  })
  api.add({
    method: 'put',
    path: '/projects/:project/public-form',
    summary: 'Switch the public form on or off',
    body: zSetPublicForm,
    answer: zProjectSetup,
    handle: ({ ctx, who, params, body }) => {
      setPublicForm(ctx, who, params.project ?? '', body.isOn)
      return readSetup(ctx.db, params.project ?? '')
    },
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
    answer: zEmpty,
    isPublic: true,
    handle: ({ ctx, params, body, koa }) => {
      byAddress.take(koa.ip, ctx.nowMs())
      ofAll.take('all', ctx.nowMs())
      receivePublicReport(ctx, params.project ?? '', body)
      koa.status = 201
      return {}
    },
  })
}
