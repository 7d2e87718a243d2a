/** What somebody who looked at a change says of it. */
export const VERDICTS = ['agreed', 'changes-asked', 'remarked'] as const
/** One of them. */
export type Verdict = (typeof VERDICTS)[number]

/** A verdict as it was given. */
export interface GivenVerdict {
  personId: string
  verdict: Verdict
  /** The identities of the changes that its giver saw. */
  patches: readonly string[]
  atMs: number
}
/** A verdict and whether it still speaks about the change as it is. */
export type StandingVerdict<Given extends GivenVerdict> = Given & {
  /** Why it does not hold: the change moved on, or its giver wrote part of it. */
  fell: null | 'changed' | 'own-work'
}

/**
 * Everybody's newest verdict that says anything, and whether it holds. An agreement belongs to the patches that were seen: it falls when
 * one of them is gone or another came, and a rebase, which keeps their identities, keeps it. An objection stands until its giver says
 * otherwise. Whoever wrote a commit of the change cannot agree to it (docs/rules.md#approvals). A remark alone takes no verdict back.
 * O(verdicts × patches).
 */
export function standingVerdicts<Given extends GivenVerdict>(
  given: readonly Given[],
  { patches, authorIds }: { patches: readonly string[]; authorIds: ReadonlySet<string> },
): StandingVerdict<Given>[] {
  const newest = new Map<string, Given>()
  for (const one of [...given].sort((a, b) => a.atMs - b.atMs)) {
    const known = newest.get(one.personId)
    if (one.verdict !== 'remarked' || known === undefined || known.verdict === 'remarked') newest.set(one.personId, one)
  }
  const now = new Set(patches)
  return [...newest.values()].map((one) => {
    if (one.verdict !== 'agreed') return { ...one, fell: null }
    if (authorIds.has(one.personId)) return { ...one, fell: 'own-work' }
    const isSame = one.patches.length === now.size && one.patches.every((patch) => now.has(patch))
    return { ...one, fell: isSame ? null : 'changed' }
  })
}
