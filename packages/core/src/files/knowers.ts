/** What is known of one commit of a file, for telling who knows it. */
export interface FileWork {
  /** Whoever wrote it, by address. */
  author: string
  atMs: number
}
/** Somebody who knows a file, with what speaks for it. */
export interface Knower {
  author: string
  /** Commits of the file. */
  commits: number
  /** Lines that stand as they wrote them. */
  lines: number
  lastAtMs: number
  /** From 0 to 1, for the order; the shares of all do not add up to 1. */
  share01: number
}

/** After so long half of what a commit taught is forgotten. */
const HALF_LIFE_MS = 365 * 86_400_000
/** How much lines that stand count against commits that were made. */
const LINES_SHARE = 0.6

/**
 * Who knows a file, best first: by the lines that stand as they wrote them, and by their commits, of which old ones count less
 * (half after a year; knowledge of code fades, Krüger et al. 2018). O(commits + authors).
 */
export function knowersOf(
  work: readonly FileWork[],
  linesBy: ReadonlyMap<string, number>,
  { nowMs, limit = 5 }: { nowMs: number; limit?: number },
): Knower[] {
  const by = new Map<string, { commits: number; weight: number; lastAtMs: number }>()
  for (const { author, atMs } of work) {
    const known = by.get(author) ?? { commits: 0, weight: 0, lastAtMs: 0 }
    by.set(author, {
      commits: known.commits + 1,
      weight: known.weight + 0.5 ** (Math.max(0, nowMs - atMs) / HALF_LIFE_MS),
      lastAtMs: Math.max(known.lastAtMs, atMs),
    })
  }
  const allWeight = [...by.values()].reduce((sum, { weight }) => sum + weight, 0)
  const allLines = [...linesBy.values()].reduce((sum, lines) => sum + lines, 0)
  return [...new Set([...by.keys(), ...linesBy.keys()])]
    .map((author): Knower => {
      const { commits, weight, lastAtMs } = by.get(author) ?? { commits: 0, weight: 0, lastAtMs: 0 }
      const lines = linesBy.get(author) ?? 0
      const ofLines = allLines === 0 ? 0 : lines / allLines
      const ofCommits = allWeight === 0 ? 0 : weight / allWeight
      return { author, commits, lines, lastAtMs, share01: LINES_SHARE * ofLines + (1 - LINES_SHARE) * ofCommits }
    })
    .sort((a, b) => b.share01 - a.share01 || (a.author < b.author ? -1 : 1))
    .slice(0, limit)
}
