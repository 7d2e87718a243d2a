import ignore from 'ignore'

/** A line of an owners file: paths of git's ignore patterns, and who looks after them. */
export interface OwnerRule {
  pattern: string
  /** People by id, name or address, as they stand in the file. */
  owners: string[]
}

/** At most so many rules are read: more is no file that people keep. */
const RULES_MAX = 2000

/**
 * Reads an owners file: on each line a pattern as in git's own ignore files, then whoever looks after what it fits; names of several
 * words stand in quotes. `#` begins a comment; a pattern without anybody has no owners. Lines that say nothing are passed over.
 */
export function parseOwners(text: string): OwnerRule[] {
  return text
    .split('\n')
    .slice(0, RULES_MAX)
    .flatMap((line): OwnerRule[] => {
      const bare = line.replace(/(?:^|\s)#.*$/, '').trim()
      const [pattern, ...owners] = [...bare.matchAll(/"([^"]*)"|(?:\\.|\S)+/g)].map(([whole, quoted]) => quoted ?? whole)
      return pattern === undefined ? [] : [{ pattern, owners }]
    })
}

/** Who looks after a path, as a function: the last rule that fits it decides, as in git's ignore files. Each rule is compiled once. */
export function ownersIn(rules: readonly OwnerRule[]): (path: string) => readonly string[] {
  const compiled = rules.map(({ pattern, owners }) => ({ owners, fits: ignore().add(pattern) }))
  return (path) => compiled.findLast(({ fits }) => ignore.isPathValid(path) && fits.ignores(path))?.owners ?? []
}

/** What is known of somebody who could look at a change. */
export interface ReviewerFacts {
  personId: string
  /** Paths of the change that are theirs by the owners file. */
  owned: readonly string[]
  /** How much of the files' past is theirs, from 0 to 1, and by how many commits. */
  knows01: number
  commits: number
  /** Changes that wait for their look already. */
  waiting: number
}
/** Somebody to ask, with why. */
export interface ReviewerProposal extends ReviewerFacts {
  score: number
}

const OWNED_WEIGHT = 2
/** Each change that waits for somebody already makes them less of a choice by this. */
const WAITING_WEIGHT = 0.15

/**
 * Who to ask to look at a change, best first: owners of its paths before those who know its files, and of equals whoever has less waiting.
 * Nobody for whom nothing speaks. O(people log people).
 */
export function proposeReviewers(
  people: readonly ReviewerFacts[],
  { paths, limit = 3 }: { paths: number; limit?: number },
): ReviewerProposal[] {
  return people
    .filter(({ owned, knows01 }) => owned.length > 0 || knows01 > 0)
    .map((facts) => ({
      ...facts,
      score: (OWNED_WEIGHT * facts.owned.length) / Math.max(1, paths) + facts.knows01 - WAITING_WEIGHT * facts.waiting,
    }))
    .sort((a, b) => b.score - a.score || (a.personId < b.personId ? -1 : 1))
    .slice(0, limit)
}
