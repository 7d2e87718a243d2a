import { z } from 'zod'
import { zEmpty } from '@dystracer/core/contract/common'
import { zItem } from '@dystracer/core/contract/items'
import {
  zAcceptItem,
  zAnswerReport,
  zAskReporter,
  zDecidedMany,
  zDecideMany,
  zMergeItem,
  zProposals,
  zRejectItem,
  zReportState,
  zRoutingRules,
  zSetDuty,
  zTriagePage,
  zTriageQuery,
  zTriageWeeks,
} from '@dystracer/core/contract/triage'
import { zRoutingRule } from '@dystracer/core/triage/routing'
import { RateLimit } from '../middleware/rate-limit.js'
import { acceptItem, askReporter, decideMany, mergeItem, rejectItem, splitItem } from '../services/decisions.service.js'
import { readProposals } from '../services/proposals.service.js'
import { answerReport, readReport } from '../services/report-link.service.js'
import { readRouting, removeRoutingRule, setDuty, setRoutingRule } from '../services/routing.service.js'
import { listTriage } from '../services/triage-queue.service.js'
import { readTriageWeeks } from '../services/triage-weeks.service.js'
import type { Api } from './api.js'
import { keyOf, thenItem } from './item-answer.js'

const WEEKS_MAX = 26

export function addTriageRoutes(api: Api): void {
  api.add({
    method: 'get',
    path: '/triage',
    summary: 'What needs a decision, the most urgent first',
    query: zTriageQuery,
    answer: zTriagePage,
    handle: ({ ctx, who, query }) => listTriage(ctx, who, query),
  })
  api.add({
    method: 'get',
    path: '/items/:key/proposals',
    summary: 'What a decision could look like, with reasons',
    answer: zProposals,
    handle: ({ ctx, who, params }) => readProposals(ctx, who, keyOf(params)),
  })
  api.add({ method: 'post', path: '/items/:key/accept', summary: 'Accept', body: zAcceptItem, answer: zItem, handle: thenItem(acceptItem) })
  api.add({
    method: 'post',
    path: '/items/:key/reject',
    summary: 'Reject with a disposition',
    body: zRejectItem,
    answer: zItem,
    handle: thenItem(rejectItem),
  })
  api.add({
    method: 'post',
    path: '/items/:key/merge',
    summary: 'Say that it is the same as another, into which it goes',
    body: zMergeItem,
    answer: zItem,
    handle: thenItem(mergeItem),
  })
  api.add({ method: 'post', path: '/items/:key/split', summary: 'Take a merge back', answer: zItem, handle: thenItem(splitItem) })
  api.add({ method: 'post', path: '/items/:key/ask', summary: 'Ask the reporter', body: zAskReporter, answer: zItem, handle: thenItem(askReporter) })
  api.add({
    method: 'post',
    path: '/triage/decisions',
    summary: 'Decide on several at once',
    body: zDecideMany,
    answer: zDecidedMany,
    handle: ({ ctx, who, body }) => decideMany(ctx, who, body),
  })
  api.add({
    method: 'get',
    path: '/projects/:project/routing',
    summary: 'Routing rules, and who is on duty',
    answer: zRoutingRules,
    handle: ({ ctx, params }) => readRouting(ctx, params.project ?? ''),
  })
  api.add({
    method: 'put',
    path: '/projects/:project/routing',
    summary: 'Set a routing rule',
    body: zRoutingRule,
    answer: zRoutingRules,
    handle: ({ ctx, who, params, body }) => {
      setRoutingRule(ctx, who, params.project ?? '', body)
      return readRouting(ctx, params.project ?? '')
    },
  })
  api.add({
    method: 'delete',
    path: '/projects/:project/routing/:ruleId',
    summary: 'Remove a routing rule',
    answer: zRoutingRules,
    handle: ({ ctx, who, params }) => {
      removeRoutingRule(ctx, who, params.project ?? '', params.ruleId ?? '')
      return readRouting(ctx, params.project ?? '')
    },
  })
  api.add({
    method: 'put',
    path: '/projects/:project/duty',
    summary: 'Say who is on duty in a week',
    body: zSetDuty,
    answer: zRoutingRules,
    handle: ({ ctx, who, params, body }) => {
      setDuty(ctx, who, params.project ?? '', body)
      return readRouting(ctx, params.project ?? '')
    },
  })
  api.add({
    method: 'get',
    path: '/projects/:project/triage-weeks',
    summary: 'A look at the weeks of deciding',
    query: z.object({ weeks: z.coerce.number().int().min(1).max(WEEKS_MAX).default(8) }),
    answer: zTriageWeeks,
    handle: ({ ctx, params, query }) => readTriageWeeks(ctx, params.project ?? '', query.weeks),
  })
  addReportLinkRoutes(api)
}

/** What a reporter without an account reaches by their private link. */
function addReportLinkRoutes(api: Api): void {
  const byAddress = new RateLimit({ burst: 20, perMinute: 20 })
  api.add({
    method: 'get',
    path: '/public/reports/:token',
    summary: 'What became of a report, by its private link',
    answer: zReportState,
    isPublic: true,
    handle: ({ ctx, koa, params }) => {
      byAddress.take(koa.ip, ctx.nowMs())
      return readReport(ctx, params.token ?? '')
    },
  })
  api.add({
    method: 'post',
    path: '/public/reports/:token/answers',
    summary: 'Answer as the reporter',
    body: zAnswerReport,
    answer: zEmpty,
    isPublic: true,
    handle: ({ ctx, koa, params, body }) => {
      byAddress.take(koa.ip, ctx.nowMs())
      answerReport(ctx, params.token ?? '', body.text)
      koa.status = 201
      return {}
    },
  })
}
