/** What one person agreed to: a requirement, and its revision then. */
export interface Agreed {
  key: string
  personId: string
  revision: number
}
/** How a requirement of an agreement stands. */
export interface KeyStanding {
  key: string
  /** Who agreed to it as it is now. */
  agreedBy: string[]
  /** Who agreed to an older text: their word does not count any more. */
  outdatedBy: string[]
  /** Who has not said anything. */
  waitsFor: string[]
}

/**
 * How the requirements of an agreement stand: somebody's word belongs to the text that they saw, so that a newer revision lets it fall, and
 * a set is agreed when everybody who is asked agreed to each of them as it is now. A requirement that is not there any more is left
 * out: nobody can agree to it. O(requirements × people + agreements).
 */
export function standingOf(
  { keys, people, revisions }: { keys: readonly string[]; people: readonly string[]; revisions: ReadonlyMap<string, number> },
  verdicts: readonly Agreed[],
): { rows: KeyStanding[]; isAgreed: boolean; agreedBy: Map<string, number> } {
  const said = new Map(verdicts.map(({ key, personId, revision }) => [`${key} ${personId}`, revision]))
  const agreedBy = new Map(people.map((personId) => [personId, 0]))
  const rows = keys.flatMap((key): KeyStanding[] => {
    const revision = revisions.get(key)
    if (revision === undefined) return []
    const row: KeyStanding = { key, agreedBy: [], outdatedBy: [], waitsFor: [] }
    for (const personId of people) {
      const seen = said.get(`${key} ${personId}`)
      if (seen === undefined) row.waitsFor.push(personId)
      else if (seen === revision) {
        row.agreedBy.push(personId)
        agreedBy.set(personId, (agreedBy.get(personId) ?? 0) + 1)
      } else row.outdatedBy.push(personId)
    }
    return [row]
  })
  return { rows, agreedBy, isAgreed: rows.length > 0 && rows.every((row) => row.agreedBy.length === people.length) }
}
