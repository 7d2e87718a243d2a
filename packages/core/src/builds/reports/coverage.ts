import type { FileCoverage } from './report.js'

/** Gathers lines of files from a report; a line that any record says was run was run. */
export class CoverageGatherer {
  readonly #linesByPath = new Map<string, Map<number, boolean>>()

  /** Notes that a line was run so often. Lines that are no positive whole numbers are passed over. */
  note(path: string, line: number, hits: number): void {
    if (!Number.isInteger(line) || line < 1 || line > LINE_MAX) return
    const lines = this.#linesOf(path)
    lines.set(line, lines.get(line) === true || hits > 0)
  }

  /** A file without a line that could be run is a file nevertheless. */
  noteFile(path: string): void {
    this.#linesOf(path)
  }

  /** The files in the order of their paths, lines ascending. */
  files(): FileCoverage[] {
    return [...this.#linesByPath]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([path, lines]) => {
        const numbers = [...lines.keys()].sort((a, b) => a - b)
        return { path, covered: numbers.filter((line) => lines.get(line)), missed: numbers.filter((line) => !lines.get(line)) }
      })
  }

  #linesOf(path: string): Map<number, boolean> {
    const key = soundPath(path)
    const known = this.#linesByPath.get(key)
    if (known) return known
    const lines = new Map<number, boolean>()
    this.#linesByPath.set(key, lines)
    return lines
  }
}

const LINE_MAX = 10_000_000

/** A path as git writes it: with slashes, without `./` before it. */
function soundPath(path: string): string {
  return path
    .replaceAll('\\', '/')
    .replace(/^(?:\.\/)+/, '')
    .slice(0, 1000)
}

/** Two reports of one file together: run is what either ran. Commutative, associative, and the same report again changes nothing. */
export function uniteCoverage(one: Omit<FileCoverage, 'path'>, other: Omit<FileCoverage, 'path'>): Omit<FileCoverage, 'path'> {
  const covered = new Set([...one.covered, ...other.covered])
  const missed = new Set([...one.missed, ...other.missed].filter((line) => !covered.has(line)))
  const ascending = (lines: Set<number>) => [...lines].sort((a, b) => a - b)
  return { covered: ascending(covered), missed: ascending(missed) }
}
