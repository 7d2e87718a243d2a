import type { Repository } from '@dystracer/core/code/wire'
import { slot, type ServiceContext } from '#platform/context'

const READING = slot('repositories being read', () => new Map<string, NonNullable<Repository['reading']>>())

/** How far the reading of each repository has come that is being fetched or read just now, by its name. */
export function reading(ctx: Pick<ServiceContext, 'use'>): Map<string, NonNullable<Repository['reading']>> {
  return ctx.use(READING)
}
