import { FIRST_STEPS, type FirstStep } from '@dystracer/core/desk/wire'
import { projectsWhere } from '@dystracer/core/people/standing'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { READ_FIRST_STEPS } from './first-steps.queries.js'

/** First steps that no project which the asker sets up has taken yet; none for whoever sets nothing up. */
export function missingSteps(ctx: ServiceContext, who: Who): FirstStep[] {
  const projects = projectsWhere(who, 'setup.change')
  if (who.personId === null || projects.length === 0) return []
  const taken = sql(ctx.db, READ_FIRST_STEPS).get<Record<FirstStep, number>>({ projects: JSON.stringify(projects) })
  return FIRST_STEPS.filter((step) => taken?.[step] !== 1)
}
