import { SEVERITY_UNJUDGED } from '#setup/field-use'

import { z } from 'zod'

/** The ways in which a waiting item is decided. */
export const DECISIONS = ['accept', 'same-as', 'ask', 'reject'] as const
/** What can be decided about a waiting item. */
export type Decision = (typeof DECISIONS)[number]

/** Where what waits came from. */
export const TRIAGE_SOURCES = ['person', 'mail-or-form', 'fault', 'failing-test', 'finding', 'incident', 'import', 'came-back'] as const
/** Where a waiting item came from. */
export type TriageSource = (typeof TRIAGE_SOURCES)[number]

/** What stood on the screen as a proposal when a person decided, so that later it can be told which were right. */
export const zProposed = z.strictObject({
  severity: z.number().int().min(1).max(5).nullable().default(null),
  ownerId: z.string().max(100).nullable().default(null),
  component: z.string().max(100).nullable().default(null),
  milestone: z.string().max(50).nullable().default(null),
  requirement: z.string().max(20).nullable().default(null),
  sameAs: z.string().max(20).nullable().default(null),
})
export type Proposed = z.infer<typeof zProposed>
/** The fields for which triage makes proposals; figures count how often the first one is taken. */
export const PROPOSED_FIELDS = ['severity', 'ownerId', 'component', 'milestone', 'requirement', 'sameAs'] as const

/** How a proposal fared: null where nothing was proposed or the decision does not speak of it. */
export function wasTaken(
  field: (typeof PROPOSED_FIELDS)[number],
  decision: Decision,
  proposed: Partial<Proposed>,
  chosen: Partial<Proposed>,
): boolean | null {
  const wanted = proposed[field] ?? null
  if (wanted === null) return null
  if (field === 'sameAs') return decision === 'same-as' ? chosen.sameAs === wanted : decision === 'accept' ? false : null
  return decision === 'accept' ? chosen[field] === wanted : null
}

/** What accepting an item means where nothing more is asked: it keeps what it has, at the middle severity if nobody judged it. */
export function acceptedAsItStands<Owner, Component>(item: { severity: number | null; ownerId: Owner; component: Component }) {
  return { severity: item.severity ?? SEVERITY_UNJUDGED, ownerId: item.ownerId, component: item.component }
}
