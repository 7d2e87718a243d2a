import { zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { z } from 'zod'
import type { DeliveryFigures } from './delivery.js'

const zShare = z.object({ count: z.number().int(), of: z.number().int(), share: z.number(), from: z.number(), to: z.number() })
const zDurations = z.object({
  count: z.number().int(),
  medianMs: z.number(),
  p85Ms: z.number(),
  longest: z.array(z.object({ id: z.string(), ms: z.number() })),
})
/** How well one service, or all, is delivered. */
export const zDeliveryFigures = z.object({
  service: z.string().nullable(),
  deployments: z.number().int(),
  perWeek: z.number(),
  failures: zShare.nullable(),
  restore: zDurations.nullable(),
  commitLead: zDurations.nullable(),
  itemLead: zDurations.nullable(),
  weeks: z.array(z.object({ atMs: zAtMs, deployments: z.number().int(), bad: z.number().int() })),
}) satisfies z.ZodType<DeliveryFigures>

/** What can be asked of delivery. */
export const deliveryOperations = {
  readDelivery: operation({
    method: 'get',
    path: '/delivery',
    summary:
      'How often something goes to production, how long that takes, what share fails and how long until it is put right; ' +
      'all services first',
    may: 'member-of-any',
    about: 'nothing',
    query: z.object({
      /** So many days back. */
      days: z.coerce.number().int().min(7).max(1100).default(90),
    }),
    answer: z.object({ fromMs: zAtMs, untilMs: zAtMs, rows: z.array(zDeliveryFigures) }),
  }),
}
/** What is answered for a time. */
export type Delivery = z.infer<(typeof deliveryOperations)['readDelivery']['answer']>
