import type { ItemSummary } from '@dystracer/core/records/wire'
import { lackingOf } from '@dystracer/core/setup/stage-rule'
import { usePeople } from '#features/people/index'

/**
 * What an item of the project that one works in lacks by its rules, as far as a row tells: “no owner, estimate”; an empty text where it
 * lacks nothing. Rules of other projects are not at hand in a list.
 */
export function useLacks(): (item: ItemSummary) => string {
  const { me } = usePeople()
  return (item) => {
    if (!me || item.project !== me.project.prefix) return ''
    const lacking = lackingOf(
      { type: item.type, stage: item.stage, isRejected: item.disposition !== null, values: valuesOf(item) },
      me.setup,
    )
    return lacking.length === 0 ? '' : `no ${lacking.join(', ')}`
  }
}

/** By the names that types and stage rules use; what a row does not hold (a requirement) is left out. */
function valuesOf(item: ItemSummary): Record<string, unknown> {
  const { ownerId, component, severity, milestone, priority, estimateMinutes, dueOn, sprint, points, labels } = item
  return { owner: ownerId, component, severity, milestone, priority, estimate: estimateMinutes, due: dueOn, sprint, points, labels }
}
