import { latestResults, placeOf } from '@dystracer/core/cases/stand'
import type { CaseStep, PlanDetail } from '@dystracer/core/cases/wire'

/** A case in an environment. */
export interface RunPlace {
  number: number
  environment: string
}

/** The first place of a plan that nobody has done as it is now, after another one where that is given; null where all is done. */
export function nextOpen(plan: PlanDetail, after?: RunPlace): RunPlace | null {
  const latest = latestResults(plan.results)
  const places = plan.environments.flatMap((environment) => plan.cases.map(({ number }) => ({ number, environment })))
  const from = after ? places.findIndex((place) => placeOf(place) === placeOf(after)) + 1 : 0
  const isOpen = (place: RunPlace) => {
    const result = latest.get(placeOf(place))
    return !result || result.isStale
  }
  return [...places.slice(from), ...places.slice(0, from)].find(isOpen) ?? null
}

/** The id of a run: its plan, case and environment. */
export function runId({ project, planId }: Pick<PlanDetail, 'project' | 'planId'>, { number, environment }: RunPlace): string {
  return `${project}/${planId}/${number}/${environment}`
}

/** Steps with their numbers, from 1. */
export function numbered(steps: readonly CaseStep[]): (CaseStep & { number: number })[] {
  return steps.map((step, at) => ({ ...step, number: at + 1 }))
}
