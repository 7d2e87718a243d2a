import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { basename, dirname, join } from 'node:path'
import { LikenessIndex, type LikenessText } from '@dystracer/core/likeness/likeness-index'
import { RequirementKinship } from '@dystracer/core/likeness/requirement-kinship'
import { findRequirements, makeRequirementIndex, NEIGHBOURS } from '@dystracer/core/likeness/requirement-index'
import { groupFaults } from '@dystracer/core/traces/fault-sites'
import { readTrace } from '@dystracer/core/traces/read-trace'
import { failedStatement } from '@dystracer/core/traces/statement'
import { mapTrace, parseSourceMap } from '@dystracer/server/subjects/git/source-maps'
import { isUpkeep, rankTies, SURE_FROM, textOfCommit } from '@dystracer/core/ties/commit-links'
import { readWordVectors } from '@dystracer/server/subjects/likeness/word-vectors'

interface Report {
  id: string
  product: string
  title: string
  description: string
  component: string
  reportedAt: string
}
interface Commit {
  id: string
  message: string
  files: string[]
  time: string
}
interface Requirement {
  id: string
  title: string
  text: string
  parent: string | null
}
interface Sample {
  id: string
  runtime: string
  release: string
  timestamp: string
  exceptionType: string
  exceptionMessage: string
  stacktrace: string
}
export type Say = (line: string) => void

/** So many reports are weighed for a commit before the best are said. */
const CANDIDATES_OF_COMMIT = 40
const CANDIDATES = 10

export function readLines<Row>(path: string): Row[] {
  if (!existsSync(path)) throw new Error(`there is no file ${path}`)
  return readFileSync(path, 'utf8')
    .split('\n')
    .filter((line) => line.trim() !== '')
    .map((line, index) => {
      try {
        return JSON.parse(line) as Row
      } catch (error) {
        throw new Error(`${path}: line ${index + 1} is not JSON`, { cause: error })
      }
    })
}

/** A report as the index takes it. The reporter who was not sure of the component says nothing by it. */
function textOf(report: Report, scope = report.product): LikenessText {
  return {
    id: report.id,
    title: report.title,
    text: report.description,
    scope,
    component: report.component === 'Not sure' ? null : report.component,
  }
}

/**
 * For each report the earlier ones that look alike, best first: the same index that serves the dialog for logging, with the requirements
 * that lie beside the file, if any do. Scores order; they are
 * no likelihoods, so nothing is called the same.
 */
export function evalDuplicates(path: string, say: Say): void {
  const reports = readLines<Report>(path).sort((a, b) => a.reportedAt.localeCompare(b.reportedAt))
  const position = new Map(reports.map((report, index) => [report.id, index]))
  const index = new LikenessIndex({ vectors: readWordVectors() })
  const beside = join(dirname(path), 'requirements.jsonl')
  const kinship = new RequirementKinship(requirementsOf(existsSync(beside) ? readLines<Requirement>(beside) : []))
  for (const report of reports) {
    index.add(textOf(report))
    kinship.add(textOf(report))
  }
  for (const [at, report] of reports.entries()) {
    const text = textOf(report)
    const hits = index.find(text, { limit: CANDIDATES, admits: (id) => (position.get(id) ?? at) < at, kin: kinship.kinOf(text) })
    say(
      JSON.stringify({
        id: report.id,
        candidates: hits.map(({ id, score }) => ({ id, score })),
        score: hits[0]?.score ?? 0,
      }),
    )
  }
}

/**
 * For each commit the reports that it may mend, best first, by the model that proposes items for commits without one. No tie is known here,
 * so which component's work lies in which folder is guessed from a first look at the words alone.
 */
export function evalLinks(reportsPath: string, commitsPath: string, say: Say): void {
  const index = new LikenessIndex({ vectors: readWordVectors() })
  const reports = readLines<Report>(reportsPath)
  for (const report of reports) index.add(textOf(report, 'all'))
  const areaOf = new Map(reports.map((report) => [report.id, `${report.product}/${report.component}`]))
  const commits = readLines<Commit>(commitsPath).map((commit) => {
    const text = textOfCommit(commit)
    const hits = index.find({ id: `commit ${commit.id}`, ...text, scope: 'all', component: null }, { limit: CANDIDATES_OF_COMMIT })
    return { commit, hits, folders: [...new Set(commit.files.flatMap(foldersOf))] }
  })
  const work = new Map<string, { all: number; of: Map<string, number> }>()
  for (const { hits, folders } of commits)
    for (const folder of folders)
      for (const { id, score } of hits) {
        const at = work.get(folder) ?? { all: 0, of: new Map<string, number>() }
        const area = areaOf.get(id) ?? ''
        at.all += score ** 2
        at.of.set(area, (at.of.get(area) ?? 0) + score ** 2)
        work.set(folder, at)
      }
  const shareOf = (folder: string, area: string) => {
    const at = work.get(folder)
    return at === undefined || at.all === 0 ? 0 : (at.of.get(area) ?? 0) / at.all
  }
  for (const { commit, hits, folders } of commits) {
    const candidates = hits.map(({ id, score }) => ({
      key: id,
      facts: {
        words: score,
        component: Math.max(0, ...folders.map((folder) => shareOf(folder, areaOf.get(id) ?? ''))),
        files: 0,
        author: 0,
        fault: 0,
        later: 0,
        settled: 0,
        'no-mend': isUpkeep(commit.message) ? 1 : 0,
      },
    }))
    const ranked = rankTies(candidates).slice(0, CANDIDATES)
    say(
      JSON.stringify({
        commit: commit.id,
        candidates: ranked.map(({ key, likelihood01 }) => ({ id: key, score: likelihood01 })),
        score: ranked[0]?.likelihood01 ?? 0,
        // Reports of one defect look alike, so the next best is no rival here: how likely the first is, decides.
        link: (ranked[0]?.likelihood01 ?? 0) >= SURE_FROM,
      }),
    )
  }
}

/** `web/recipes/calc.ts` lies in `web/recipes` and in `web`. */
function foldersOf(path: string): string[] {
  const folders = path.split('/')
  return [folders.slice(0, 2).join('/'), folders[0] ?? path]
}

/** An index of requirements; headings ask for nothing, and are left out. */
function requirementsOf(requirements: readonly Requirement[]): LikenessIndex {
  const headings = new Set(requirements.map((requirement) => requirement.parent))
  return makeRequirementIndex(
    requirements.filter((requirement) => !headings.has(requirement.id)),
    readWordVectors(),
  )
}

/** For each report the requirements that it may break, best first; headings are left out. */
export function evalRequirements(reportsPath: string, requirementsPath: string, say: Say): void {
  const index = requirementsOf(readLines<Requirement>(requirementsPath))
  const reports = readLines<Report>(reportsPath)
  const alike = new LikenessIndex({ vectors: readWordVectors() })
  for (const report of reports) alike.add(textOf(report))
  const byId = new Map(reports.map((report) => [report.id, report]))
  for (const report of reports) {
    const neighbours = alike.find(textOf(report), { limit: NEIGHBOURS }).flatMap(({ id, score }) => {
      const other = byId.get(id)
      return other ? [{ title: other.title, text: other.description, likeness: score }] : []
    })
    const hits = findRequirements(index, { title: report.title, text: report.description, neighbours }, CANDIDATES)
    say(JSON.stringify({ id: report.id, candidates: hits.map(({ id, score }) => ({ id, score })) }))
  }
}

/**
 * For each trace its group and the innermost frame of the program's own, as printed, or in the source where a source map beside the file
 * leads there (`bundles/RELEASE/`). Groups follow statements
 * through releases, so the whole file is read before the first is said.
 */
export function evalTraces(path: string, say: Say): void {
  const findMap = mapsBeside(path)
  const read = readLines<Sample>(path).map((sample) => {
    const trace = readTrace(sample.stacktrace, { type: sample.exceptionType, message: sample.exceptionMessage, runtime: sample.runtime })
    const mapped = mapTrace(trace, (file) => findMap(sample.release, file))
    return { sample, mapped, statement: failedStatement(mapped) }
  })
  const groups = groupFaults(
    read.map(({ sample, statement }) => ({
      id: sample.id,
      service: sample.release.replace(/[@/_-]?v?\d[\w.+-]*$/, ''),
      release: sample.release,
      atMs: Date.parse(sample.timestamp) || 0,
      statement,
    })),
  )
  for (const { sample, mapped } of read) {
    const top = mapped.exception.frames.find((frame) => frame.isApp)
    const { function: name = null, file = null, line = null, column = null } = top ?? {}
    say(
      JSON.stringify({
        id: sample.id,
        group: groups.get(sample.id) ?? sample.id,
        topAppFrame: top ? { function: name, file, line, column } : null,
      }),
    )
  }
}

/** Source maps in `bundles/RELEASE/` beside a file, by the name of the built file; each is read once. */
function mapsBeside(path: string): (release: string, builtFile: string) => ReturnType<typeof parseSourceMap> | null {
  const root = join(dirname(path), 'bundles')
  const known = new Map<string, ReturnType<typeof parseSourceMap> | null>()
  const filesOf = new Map<string, string[]>()
  return (release, builtFile) => {
    const name = `${builtFile.split(/[\\/]/).at(-1)}.map`
    const id = `${release}/${name}`
    if (!known.has(id)) {
      const folder = join(root, release)
      // A release names a folder of that name and nothing further up.
      const isPlain = /^[\w@.+-]+$/.test(release) && !release.includes('..')
      if (!filesOf.has(release))
        filesOf.set(release, isPlain && existsSync(folder) ? (readdirSync(folder, { recursive: true }) as string[]) : [])
      const file = filesOf.get(release)?.find((entry) => basename(entry) === name)
      known.set(id, file === undefined ? null : parseSourceMap(readFileSync(join(folder, file), 'utf8')))
    }
    return known.get(id) ?? null
  }
}
