import { z } from 'zod'
import { zDay } from '#basics/wire'
import { zRoutingRule } from './routing.js'

export const zSetDuty = z.strictObject({ weekOn: zDay, personId: z.string().max(100).nullable() })
export const zRoutingRules = z.object({
  rows: z.array(zRoutingRule.extend({ /** How many items it has set something on. */ used: z.number().int() })),
  /** Monday of each week with the person on duty, from this week on. */
  duty: z.array(z.object({ weekOn: zDay, personId: z.string().nullable() })),
})
export type RoutingRules = z.infer<typeof zRoutingRules>
