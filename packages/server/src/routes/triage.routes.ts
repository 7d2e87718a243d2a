import { z } from 'zod'
import { zEmpty } from '@dystracer/core/basics/wire'
import { zItem } from '@dystracer/core/items/wire'
import {
  zAcceptItem,
  zAskReporter,
  zDecidedMany,
  zDecideMany,
  zMergeItem,
  zProposals,
  zRejectItem,
  zTriagePage,
  zTriageQuery,
  zTriageWeeks,
} from '@dystracer/core/triage/wire'
import { zAnswerReport, zReportState } from '@dystracer/core/incoming/wire'
import { zRoutingRules, zSetDuty } from '@dystracer/core/routing/wire'
import { zRoutingRule } from '@dystracer/core/routing/routing'
import { RateLimit } from '#platform/http/rate-limit'
import { acceptItem, askReporter, decideMany, mergeItem, rejectItem, splitItem } from '#subjects/triage/decisions.commands'
import { readProposals } from '#subjects/triage/proposals.views'
import { answerReport, readReport } from '#subjects/incoming/report-link.commands'
import { readRouting, removeRoutingRule, setDuty, setRoutingRule } from '#subjects/routing/routing.commands'
import { listTriage } from '#subjects/triage/queue.views'
import { readTriageWeeks } from '#subjects/triage/weeks.views'
import type { Api } from '#platform/http/api'
import { keyOf, thenItem } from '#subjects/items/item-answer'

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
