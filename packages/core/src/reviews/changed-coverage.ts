import parseDiff from 'parse-diff'
import { fromRanges } from '#text/line-ranges'

/** Lines of a change that tests ran, or did not, by file; lines that no report speaks of (comments, other files) are in neither. */
export interface ChangedCoverage {
  files: { path: string; covered: number[]; missed: number[] }[]
  covered: number
  missed: number
}

/** The lines that a unified diff brings to each file, by their numbers after it; files that bring none are left out. Linear. */
export function addedLines(diff: string): Map<string, number[]> {
  const added = new Map<string, number[]>()
  for (const { to, chunks } of parseDiff(diff)) {
    const lines = chunks.flatMap(({ changes }) => changes.flatMap((change) => (change.type === 'add' ? [change.ln] : [])))
    if (to !== undefined && lines.length > 0) added.set(to, lines)
  }
  return added
}

/** What a report of coverage says of the lines that a change brings. O(lines). */
export function coverageOfChange(
  added: ReadonlyMap<string, readonly number[]>,
  reported: readonly { path: string; covered: string; missed: string }[],
): ChangedCoverage {
  const files = reported.flatMap(({ path, covered, missed }) => {
    const lines = added.get(path)
    if (!lines) return []
    const [ran, left] = [new Set(fromRanges(covered)), new Set(fromRanges(missed))]
    const file = { path, covered: lines.filter((line) => ran.has(line)), missed: lines.filter((line) => left.has(line)) }
    return file.covered.length + file.missed.length > 0 ? [file] : []
  })
  const sum = (side: 'covered' | 'missed') => files.reduce((total, file) => total + file[side].length, 0)
  return { files, covered: sum('covered'), missed: sum('missed') }
}

/** How many of a hundred measured lines tests ran, rounded down: 99.9 is not all. Null where nothing could be measured. */
export function percentOf({ covered, missed }: Pick<ChangedCoverage, 'covered' | 'missed'>): number | null {
  return covered + missed === 0 ? null : Math.floor((covered / (covered + missed)) * 100)
}
