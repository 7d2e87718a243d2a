import type { Body } from '#shared/lib/api'
import type { Item } from '@dystracer/core/items/wire'
import type { ItemSummary } from '@dystracer/core/records/wire'
import type { Proposals } from '@dystracer/core/triage/wire'
import type { Proposed } from '@dystracer/core/triage/decision'

/** What a decision will set if it is taken now: what the item holds, what was proposed, and what the decider changed. */
export interface DecisionDraft {
  severity: number
  ownerId: string
  component: string
  milestone: string
  requirement: string
  title: string
}
export type DraftField = 'ownerId' | 'component' | 'milestone' | 'requirement'
export const PROPOSALS_OF: Record<DraftField, 'owners' | 'components' | 'milestones' | 'requirements'> = {
  ownerId: 'owners',
  component: 'components',
  milestone: 'milestones',
  requirement: 'requirements',
}
/** A requirement stands chosen only when evidence ties it, not when words are merely alike; a milestone is offered, not chosen. */
export function firstDraft(item: Item, proposals: Proposals): DecisionDraft {
  const [requirement] = proposals.requirements
  return {
    severity: proposals.severity.value,
    ownerId: item.ownerId ?? proposals.owners[0]?.value ?? '',
    component: item.component ?? proposals.components[0]?.value ?? '',
    milestone: item.milestone ?? '',
    requirement: requirement?.isFounded ? requirement.value : '',
    title: item.title,
  }
}

/** The value after the one that is chosen, round and round through the proposals and "none". */
export function nextProposal(values: readonly string[], chosen: string): string {
  if (values.length === 0) return chosen
  const at = values.indexOf(chosen)
  return at < 0 ? (values[0] ?? '') : (values[at + 1] ?? '')
}

/** The best proposal of each field as it stood on screen. */
export function proposedOf(proposals: Proposals | undefined): Partial<Proposed> {
  if (!proposals) return {}
  return {
    severity: proposals.severity.value,
    ownerId: proposals.owners[0]?.value ?? null,
    component: proposals.components[0]?.value ?? null,
    milestone: proposals.milestones[0]?.value ?? null,
    requirement: proposals.requirements[0]?.value ?? null,
    sameAs: proposals.alike[0]?.value ?? null,
  }
}

/** What accepting sends: the draft, or, where no proposals were read yet, what the item holds. */
export function acceptBody(
  draft: DecisionDraft | undefined,
  item: Pick<ItemSummary, 'ownerId' | 'component'> | undefined,
  proposals: Proposals | undefined,
  severity: number,
): Body<'acceptItem'> {
  return {
    severity,
    ownerId: (draft ? draft.ownerId : item?.ownerId) || null,
    component: (draft ? draft.component : item?.component) || null,
    milestone: draft?.milestone || null,
    requirement: draft?.requirement || null,
    ...(draft && { title: draft.title }),
    proposed: proposedOf(proposals),
    asWaiting: true,
  }
}

export const NOBODY_TO_ASK = 'Nobody can be asked: no other person reported it'

/** Who would be asked about an item, in words; null where nobody can be: it came from a machine, or the one who decides reported it. */
export function askedOf(
  item: Pick<Item, 'reporterId' | 'cameFrom'>,
  nameOf: (personId: string | null) => string,
  meId: string | undefined,
): string | null {
  if (item.reporterId !== null) return item.reporterId === meId ? null : nameOf(item.reporterId)
  return item.cameFrom?.includes('@') ? item.cameFrom : null
}
