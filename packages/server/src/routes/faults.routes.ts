import { z } from 'zod'
import { zEmpty, zPage, zPageQuery } from '@dystracer/core/basics/wire'
import {
  zAddScrubRule,
  zBelong,
  zChangeService,
  zConnectService,
  zConnectedService,
  zFault,
  zFaultDetail,
  zFaultFrames,
  zFaultQuery,
  zLikeFault,
  zMergeFault,
  zOccurrence,
  zOccurrenceDetail,
  zScrubRule,
  zTryScrub,
} from '@dystracer/core/faults/wire'
import type { ItemSummary } from '@dystracer/core/records/wire'
import type { Who } from '#subjects/people/access'
import {
  addScrubRule,
  changeService,
  connectService,
  listConnectedServices,
  listScrubRules,
  removeScrubRule,
  sendTestEvent,
  tryScrub,
} from '#subjects/faults/connected-services.commands'
import { mergeFaults, placeOccurrence, unmergeFault } from '#subjects/faults/merges.commands'
import { listAlikeFaults, listFaults, readFault, readFaultFrames } from '#subjects/faults/faults.views'
import { listOccurrences, readOccurrence } from '#subjects/faults/occurrences.views'
import type { ServiceContext } from '#platform/context'
import { maySee } from '#subjects/records/visibility'
import type { Api } from '#platform/http/api'

/** Faults, what people say of them, and the programs that send them. */
export function addFaultRoutes(api: Api): void {
  addReadingRoutes(api)
  addDecisionRoutes(api)
  addServiceRoutes(api)
}

function addReadingRoutes(api: Api): void {
  api.add({
    method: 'get',
    path: '/faults',
    summary: 'Faults by service, environment, release and words, in the order asked for',
    query: zFaultQuery,
    answer: zPage(zFault),
    handle: ({ ctx, who, query }) => {
      const page = listFaults(ctx, query)
      return { ...page, rows: page.rows.map((fault) => withVisibleItem(ctx, who, fault)) }
    },
  })
  api.add({
    method: 'get',
    path: '/faults/:fault',
    summary: 'One fault',
    answer: zFaultDetail,
    handle: async ({ ctx, who, params }) => withVisibleItem(ctx, who, await readFault(ctx, params.fault ?? '')),
  })
  api.add({
    method: 'get',
    path: '/faults/:fault/frames',
    summary: 'Its frames with source and blame',
    answer: zFaultFrames,
    handle: ({ ctx, params }) => readFaultFrames(ctx, params.fault ?? ''),
  })
  api.add({
    method: 'get',
    path: '/faults/:fault/occurrences',
    summary: 'Occurrences with everything as received',
    query: zPageQuery,
    answer: zPage(zOccurrence),
    handle: ({ ctx, params, query }) => listOccurrences(ctx, params.fault ?? '', query),
  })
  api.add({
    method: 'get',
    path: '/faults/:fault/occurrences/:occurrence',
    summary: 'One occurrence with everything as received, its exceptions as they are read, and its neighbours',
    answer: zOccurrenceDetail,
    handle: ({ ctx, params }) => readOccurrence(ctx, params.fault ?? '', Number(params.occurrence)),
  })
}

function addServiceRoutes(api: Api): void {
  api.add({
    method: 'patch',
    path: '/services/:service',
    summary: 'Change what a service is built from and whose code is whose; on request what it sent before is found anew',
    body: zChangeService,
    answer: z.object({ merged: z.number().int(), made: z.number().int() }),
    handle: ({ ctx, who, params, body }) => changeService(ctx, who, params.service ?? '', body),
  })
  const zRules = z.object({ rows: z.array(zScrubRule) })
  api.add({
    method: 'get',
    path: '/scrub-rules',
    summary: 'What is taken out before anything is stored, beside what always is',
    answer: zRules,
    handle: ({ ctx }) => ({ rows: listScrubRules(ctx) }),
  })
  api.add({
    method: 'post',
    path: '/scrub-rules',
    summary: 'Take more out of all that comes from now on',
    body: zAddScrubRule,
    answer: zRules,
    handle: ({ ctx, who, body }) => {
      addScrubRule(ctx, who, body)
      return { rows: listScrubRules(ctx) }
    },
  })
  api.add({
    method: 'delete',
    path: '/scrub-rules/:ruleId',
    summary: 'Remove such a rule',
    answer: zRules,
    handle: ({ ctx, who, params }) => {
      removeScrubRule(ctx, who, params.ruleId ?? '')
      return { rows: listScrubRules(ctx) }
    },
  })
  api.add({
    method: 'post',
    path: '/scrub-rules/try',
    summary: 'A text as it would be stored',
    body: zTryScrub,
    answer: zTryScrub,
    handle: ({ ctx, body }) => ({ text: tryScrub(ctx, body.text) }),
  })
}

function addDecisionRoutes(api: Api): void {
  api.add({
    method: 'get',
    path: '/faults/:fault/alike',
    summary: 'Faults that resemble it, with the stacks side by side',
    answer: z.object({ rows: z.array(zLikeFault) }),
    handle: async ({ ctx, params }) => ({ rows: await listAlikeFaults(ctx, params.fault ?? '') }),
  })
  api.add({
    method: 'post',
    path: '/faults/:fault/merge',
    summary: 'Make one fault of two: this one goes into the other',
    body: zMergeFault,
    answer: zFaultDetail,
    handle: async ({ ctx, who, params, body }) => {
      await mergeFaults(ctx, who, params.fault ?? '', body.into)
      return withVisibleItem(ctx, who, await readFault(ctx, body.into))
    },
  })
  api.add({
    method: 'delete',
    path: '/faults/:fault/merge',
    summary: 'Take a merge back: the fault is one of its own again',
    answer: zFaultDetail,
    handle: async ({ ctx, who, params }) => withVisibleItem(ctx, who, await readFault(ctx, await unmergeFault(ctx, who, params.fault ?? ''))),
  })
  api.add({
    method: 'post',
    path: '/faults/:fault/occurrences/:occurrence/belongs',
    summary: 'Say to which fault an occurrence and all that fails at its line belongs; answers with that fault',
    body: zBelong,
    answer: zFaultDetail,
    handle: async ({ ctx, who, params, body }) => {
      const fault = await placeOccurrence(ctx, who, { fault: params.fault ?? '', occurrenceId: Number(params.occurrence), ...body })
      return withVisibleItem(ctx, who, await readFault(ctx, fault))
    },
  })
  api.add({
    method: 'get',
    path: '/services',
    summary: 'Services that send errors, what they are mapped to, and when they were last heard',
    answer: z.object({ rows: z.array(zConnectedService) }),
    handle: ({ ctx }) => ({ rows: listConnectedServices(ctx) }),
  })
  api.add({
    method: 'post',
    path: '/projects/:project/services',
    summary: 'Map a service to a repository',
    body: zConnectService,
    answer: z.object({ rows: z.array(zConnectedService) }),
    handle: ({ ctx, who, params, body }) => {
      connectService(ctx, who, params.project ?? '', body)
      return { rows: listConnectedServices(ctx) }
    },
  })
  api.add({
    method: 'post',
    path: '/services/:service/test-event',
    summary: 'Send a harmless error through the intake, as a program would',
    answer: zEmpty,
    handle: async ({ ctx, who, params }) => {
      await sendTestEvent(ctx, who, params.service ?? '')
      return {}
    },
  })
}

function withVisibleItem<F extends { item: ItemSummary | null }>(ctx: ServiceContext, who: Who, fault: F): F {
  return fault.item && !maySee(ctx.db, who, fault.item.key) ? { ...fault, item: null } : fault
}
