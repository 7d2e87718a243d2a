import { zDay } from '#basics/wire'
import { operation } from '#people/operation'
import { zRoutingRule } from './routing.js'
import { z } from 'zod'

/** Who has the duty in the week that begins on a Monday; `null` clears it. */
export const zSetDuty = z.strictObject({ weekOn: zDay, personId: z.string().max(100).nullable() })
/** The rules in the order in which they are tried. */
export const zRoutingRules = z.object({
  rows: z.array(zRoutingRule.extend({ /** How many items it has set something on. */ used: z.number().int() })),
  /** Monday of each week with the person on duty, from this week on. */
  duty: z.array(z.object({ weekOn: zDay, personId: z.string().nullable() })),
})
export type RoutingRules = z.infer<typeof zRoutingRules>

/** What can be asked of routing. */
export const routingOperations = {
  readRouting: operation({
    method: 'get',
    path: '/projects/:project/routing',
    summary: 'Routing rules, and who is on duty',
    may: 'project.read',
    about: 'project',
    answer: zRoutingRules,
  }),
  setRoutingRule: operation({
    method: 'put',
    path: '/projects/:project/routing',
    summary: 'Set a routing rule',
    may: 'routing.change',
    about: 'project',
    body: zRoutingRule,
    answer: zRoutingRules,
  }),
  removeRoutingRule: operation({
    method: 'delete',
    path: '/projects/:project/routing/:ruleId',
    summary: 'Remove a routing rule',
    may: 'routing.change',
    about: 'project',
    answer: zRoutingRules,
  }),
  setDuty: operation({
    method: 'put',
    path: '/projects/:project/duty',
    summary: 'Say who is on duty in a week',
    may: 'routing.change',
    about: 'project',
    body: zSetDuty,
    answer: zRoutingRules,
  }),
}
