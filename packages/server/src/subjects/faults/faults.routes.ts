import { servicesOperations } from '@dystracer/core/faults/services-wire'
import type { ServiceContext } from '#platform/context'
import type { Api } from '#platform/http/api'
import type { Who } from '@dystracer/core/people/who'
import {
  changeService,
  listScrubRules,
  addScrubRule,
  removeScrubRule,
  tryScrub,
  listConnectedServices,
  connectService,
  sendTestEvent,
} from './connected-services.commands.js'
import { readFaultCauses } from './causes.views.js'
import { listFaults, readFault, readFaultFrames, listAlikeFaults } from './faults.views.js'
import { mergeFaults, unmergeFault, placeOccurrence } from './merges.commands.js'
import { listOccurrences, readOccurrence, readTrail } from './occurrences.views.js'
import { faultsOperations } from '@dystracer/core/faults/wire'
import type { ItemSummary } from '@dystracer/core/records/wire'
import { actOnFaults, logFault, proposeFaultItem } from './acts.commands.js'
import { readUnusual } from './unusual.views.js'
import { maySee } from '#subjects/records/index'

function withVisibleItem<F extends { item: ItemSummary | null }>(ctx: ServiceContext, who: Who, fault: F): F {
  return fault.item && !maySee(ctx.db, who, fault.item.key) ? { ...fault, item: null } : fault
}

export function addFaultsRoutes(api: Api): void {
  api.handle(faultsOperations.listFaults, ({ ctx, who, query }) => {
    const page = listFaults(ctx, who, query)
    return { ...page, rows: page.rows.map((fault) => withVisibleItem(ctx, who, fault)) }
  })
  api.handle(faultsOperations.readFault, async ({ ctx, who, params }) => withVisibleItem(ctx, who, await readFault(ctx, params.fault)))
  api.handle(faultsOperations.readFaultCauses, ({ ctx, who, params }) => readFaultCauses(ctx, who, params.fault))
  api.handle(faultsOperations.readUnusual, ({ ctx, params }) => readUnusual(ctx, params.fault))
  api.handle(faultsOperations.readFaultFrames, ({ ctx, who, params }) => readFaultFrames(ctx, who, params.fault))
  api.handle(faultsOperations.listOccurrences, ({ ctx, params, query }) => listOccurrences(ctx, params.fault, query))
  api.handle(faultsOperations.readOccurrence, ({ ctx, params }) => readOccurrence(ctx, params.fault, Number(params.occurrence)))
  api.handle(faultsOperations.readTrail, ({ ctx, params }) => readTrail(ctx, params.fault, Number(params.occurrence)))
  api.handle(servicesOperations.changeService, ({ ctx, who, params, body }) => changeService(ctx, who, params.service, body))
  api.handle(servicesOperations.listScrubRules, ({ ctx }) => ({ rows: listScrubRules(ctx) }))
  api.handle(servicesOperations.addScrubRule, ({ ctx, who, body }) => {
    addScrubRule(ctx, who, body)
    return { rows: listScrubRules(ctx) }
  })
  api.handle(servicesOperations.removeScrubRule, ({ ctx, who, params }) => {
    removeScrubRule(ctx, who, params.ruleId)
    return { rows: listScrubRules(ctx) }
  })
  api.handle(servicesOperations.tryScrub, ({ ctx, body }) => ({ text: tryScrub(ctx, body.text) }))
  api.handle(faultsOperations.listAlikeFaults, async ({ ctx, params }) => ({ rows: await listAlikeFaults(ctx, params.fault) }))
  api.handle(faultsOperations.mergeFault, async ({ ctx, who, params, body }) => {
    await mergeFaults(ctx, who, params.fault, body.into)
    return withVisibleItem(ctx, who, await readFault(ctx, body.into))
  })
  api.handle(faultsOperations.unmergeFault, async ({ ctx, who, params }) =>
    withVisibleItem(ctx, who, await readFault(ctx, await unmergeFault(ctx, who, params.fault))),
  )
  api.handle(faultsOperations.placeOccurrence, async ({ ctx, who, params, body }) => {
    const fault = await placeOccurrence(ctx, who, { fault: params.fault, occurrenceId: Number(params.occurrence), ...body })
    return withVisibleItem(ctx, who, await readFault(ctx, fault))
  })
  api.handle(servicesOperations.listServices, ({ ctx, who }) => ({ rows: listConnectedServices(ctx, who) }))
  api.handle(servicesOperations.connectService, ({ ctx, who, params, body }) => {
    connectService(ctx, who, params.project, body)
    return { rows: listConnectedServices(ctx, who) }
  })
  api.handle(servicesOperations.sendTestEvent, async ({ ctx, params }) => {
    await sendTestEvent(ctx, params.service)
    return {}
  })
  api.handle(faultsOperations.proposeFaultItem, ({ ctx, who, params }) => proposeFaultItem(ctx, who, params.fault.toUpperCase()))
  api.handle(faultsOperations.logFault, ({ ctx, who, params, body }) => ({ key: logFault(ctx, who, params.fault.toUpperCase(), body) }))
  api.handle(faultsOperations.actOnFaults, ({ ctx, who, body }) => actOnFaults(ctx, who, body.faults, body.act))
}
