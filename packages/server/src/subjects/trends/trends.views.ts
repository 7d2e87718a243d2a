import { fromRanges } from '@dystracer/core/text/line-ranges'
import { kindOfFinding, type FindingKind, type FindingLevel } from '@dystracer/core/findings/finding'
import type { BuildCoverage, PinnedChart, Trend, TrendBuild, UncoveredFailure } from '@dystracer/core/trends/wire'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { requireBuild } from '#subjects/builds/index'
import { coverageOfBuild, mainBranchOf, measuredBuild } from '#subjects/code/index'
import { readFaultPlace } from '#subjects/faults/index'
import { textAt } from '#subjects/git/index'
import { hiddenRepositories, hiddenServices } from '#subjects/records/index'
import {
  GET_PINNED,
  LIST_COVERED_FILE,
  LIST_FAULT_OF_REPOSITORY,
  LIST_FOUND_OF_COMMITS,
  LIST_MISSED,
  LIST_TREND,
} from './trends.queries.js'

type TrendRow = Omit<TrendBuild, 'findings'> & { sha: string; isAnalysed: number }
interface FoundRow {
  sha: string
  level: FindingLevel
  kind: FindingKind | null
  count: number
}

/** How the newest hundred builds of a repository's main line went, oldest first. Throws `not-found`. */
export function readTrend(ctx: Pick<ServiceContext, 'db'>, repository: string): Trend {
  const branch = mainBranchOf(ctx.db, repository)
  if (branch === null) throw new Problem('not-found', { detail: `No repository ${repository} is connected.` })
  const rows = sql(ctx.db, LIST_TREND).all<TrendRow>({ repository, branch })
  const found = new Map<string, Record<FindingKind, number>>()
  for (const { sha, level, kind, count } of sql(ctx.db, LIST_FOUND_OF_COMMITS).all<FoundRow>({
    repository,
    shas: JSON.stringify([...new Set(rows.map((row) => row.sha))]),
  })) {
    const known = found.get(sha) ?? { bug: 0, weakness: 0, smell: 0 }
    known[kind ?? kindOfFinding(level)] += count
    found.set(sha, known)
  }
  return {
    repository,
    branch,
    builds: rows.reverse().map(({ sha, isAnalysed, covered, ...row }) => ({
      ...row,
      covered: covered === null ? null : Math.round(covered * 10) / 10,
      findings: isAnalysed === 1 ? (found.get(sha) ?? { bug: 0, weakness: 0, smell: 0 }) : null,
    })),
  }
}

/** What the tests of a build ran, against the build of its branch before it that measured anything. Throws `not-found`. */
export function readBuildCoverage(ctx: Pick<ServiceContext, 'db'>, repository: string, number: number): BuildCoverage {
  const { branch } = requireBuild(ctx, repository, number)
  const before = measuredBuild(ctx.db, { repository, branch, before: number })
  return {
    ...coverageOfBuild(ctx.db, repository, number),
    before: before && { ...before, ...coverageOfBuild(ctx.db, repository, before.number) },
    files: sql(ctx.db, LIST_COVERED_FILE).all<BuildCoverage['files'][number]>({ repository, number, before: before?.number ?? null }),
  }
}

/**
 * Lines that no test of a build ran and that failed in production. A fault knows its line as its own release had it; at the build's commit
 * it is the line of the same text that lies nearest, if there is one. Throws `not-found`.
 */
export async function listUncoveredFailures(
  ctx: ServiceContext,
  who: Who,
  repository: string,
  number: number,
): Promise<UncoveredFailure[]> {
  const { sha } = requireBuild(ctx, repository, number)
  const missed = new Map(
    sql(ctx.db, LIST_MISSED)
      .all<{ path: string; missed: string }>({ repository, number })
      .map(({ path, missed: ranges }) => [path, new Set(fromRanges(ranges))]),
  )
  if (missed.size === 0) return []
  const rows: UncoveredFailure[] = []
  const faults = sql(ctx.db, LIST_FAULT_OF_REPOSITORY).all<{ number: number; type: string; message: string }>({
    repository,
    hidden: hiddenServices(ctx.db, who),
  })
  for (const fault of faults) {
    const place = await readFaultPlace(ctx, `F-${fault.number}`, (path) => missed.has(path))
    if (place === null) continue
    const line = nearestLine(await textAt(ctx, repository, sha, place.path), place.source, place.line)
    if (line === null || !missed.get(place.path)?.has(line)) continue
    rows.push({
      path: place.path,
      line,
      source: place.source.trim().slice(0, 300),
      fault: `F-${fault.number}`,
      title: `${fault.type}: ${fault.message.slice(0, 160)}`,
    })
  }
  return rows
}

/** The line of a text that reads like another, and lies nearest to where that one was; null where none does. */
function nearestLine(text: string | null, source: string, at: number): number | null {
  const wanted = source.trim()
  const same = (text ?? '').split('\n').flatMap((line, index) => (line.trim() === wanted ? [index + 1] : []))
  return same.sort((a, b) => Math.abs(a - at) - Math.abs(b - at))[0] ?? null
}

/** The charts that a project pinned, without those of repositories that the asker may not see. */
export function listPinnedCharts(ctx: Pick<ServiceContext, 'db'>, who: Who, project: string): PinnedChart[] {
  const hidden = new Set(JSON.parse(hiddenRepositories(ctx.db, who)) as string[])
  return pinnedIn(ctx, project).filter(({ repository }) => !hidden.has(repository))
}

/** All charts that a project pinned. */
export function pinnedIn(ctx: Pick<ServiceContext, 'db'>, project: string): PinnedChart[] {
  return JSON.parse(sql(ctx.db, GET_PINNED).get<{ charts: string }>({ project })?.charts ?? '[]') as PinnedChart[]
}
