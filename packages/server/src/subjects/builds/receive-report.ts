import { inPieces } from '#platform/jobs/in-pieces'
import { judgeCoverage, judgeFindings, judgeTests } from '#subjects/quality/index'
import { hash } from 'node:crypto'
import type { ReportFormat } from '@dystracer/core/builds/report-format'
import { toRanges } from '@dystracer/core/text/line-ranges'
import type { FileCoverage, ReportContent, TestCase } from '@dystracer/core/builds/reports/report'
import type { TestResultBody } from '@dystracer/core/builds/events'
import { Problem } from '@dystracer/core/basics/problem'
import { TrackedFiles } from '@dystracer/core/traces/tracked-files'
import { parseReferences } from '@dystracer/core/text/references'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { getCommit } from '#subjects/code/index'
import { trackedFilesOf } from '#subjects/git/index'
import { keyPrefixes } from '#subjects/records/index'
import { numberOfBuild } from './build-names.js'
import { itemsOfBuild } from './items-of-build.js'
import { readReportAside } from './reports.client.js'
import { GET_BRANCH_OF_BUILD_BY_REPOSITORY_AND_BUILD, HAS_REPOSITORY_BY_REPOSITORY } from './receive-report.queries.js'

/** What a report is of: a commit, and the build of it as its service calls it; null for a report that says no build. */
export interface ReportOf {
  repository: string
  commit: string
  build: string | null
  branch: string
  /** When it was; else now. */
  atMs?: number
}
/** What was taken of a report, and what its sender should know about it. */
export interface TakenReport {
  kind: 'tests' | 'coverage' | 'findings'
  /** Cases, files or findings that the report holds; all of them are stored. */
  results: number
  /** Findings of which an item was logged. */
  logged?: number
  notes: string[]
}

/** Throws `not-found` for a repository that is not connected. */
export function requireRepository(ctx: ServiceContext, repository: string): void {
  if (!sql(ctx.db, HAS_REPOSITORY_BY_REPOSITORY).get({ repository }))
    throw new Problem('not-found', { detail: `No repository ${repository} is connected.` })
}

/**
 * Takes a report in one of the open formats. Shards and formats of one build add up, and the same report again changes nothing. Throws
 * `not-found` (no such repository), `malformed-body` with the place; then nothing is stored.
 */
export async function receiveReport(ctx: ServiceContext, format: ReportFormat, of: ReportOf, body: Buffer): Promise<TakenReport> {
  requireRepository(ctx, of.repository)
  const content = await withTrackedPaths(ctx, of, await readReportAside(ctx, format, body))
  const { notes } = content
  switch (content.kind) {
    case 'tests':
      await recordTests(ctx, of, content.cases)
      return { kind: 'tests', results: content.cases.length, notes }
    case 'coverage':
      await recordCoverage(ctx, of, content.files)
      return { kind: 'coverage', results: content.files.length, notes }
    case 'findings': {
      const logged = await judgeFindings(ctx, of, content.findings)
      return { kind: 'findings', results: content.findings.length, logged: logged.items, notes: [...notes, ...logged.notes] }
    }
  }
}

/** The content with the paths that the repository knows its files by, where the commit is there to be asked. */
async function withTrackedPaths(ctx: ServiceContext, { repository, commit }: ReportOf, content: ReportContent): Promise<ReportContent> {
  if (!getCommit(ctx.db, repository, commit)) return content
  // Most reports of tests say of no case where it stands.
  if (content.kind === 'tests' && !content.cases.some(({ file }) => file !== undefined)) return content
  const files = await trackedFilesOf(ctx, repository, commit)
  if (files === null) return content
  const tracked = new TrackedFiles(files)
  const find = (path: string) => tracked.resolve(path) ?? path
  if (content.kind === 'tests')
    return { ...content, cases: content.cases.map((test) => (test.file === undefined ? test : { ...test, file: find(test.file) })) }
  if (content.kind === 'coverage') return { ...content, files: content.files.map((file) => ({ ...file, path: find(file.path) })) }
  return {
    ...content,
    // An identity that was made of the path is to be the same on every build machine.
    findings: content.findings.map((finding) => {
      if (finding.file === null) return finding
      const file = find(finding.file)
      return { ...finding, file, identity: finding.identity.replace(finding.file, file) }
    }),
  }
}

/** A key of an item or a requirement, as far as it can be told without knowing prefixes. */
const MAY_NAME = /[A-Z][A-Z0-9]*-\d/i

/** Writes the cases of a build; requirements are read from names and properties (docs/rules.md#tests-and-requirements). */
async function recordTests(ctx: ServiceContext, of: ReportOf, cases: readonly TestCase[]): Promise<void> {
  const prefixes = keyPrefixes(ctx.db)
  // Most names of tests name nothing: only those that could are read as prose is.
  const namedIn = (text: string) => (MAY_NAME.test(text) ? parseReferences(text, prefixes) : null)
  const results = cases.map(({ properties, ...test }): TestResultBody => {
    const named = namedIn(`${test.name}\n\nVerifies: ${properties.requirement ?? properties.verifies ?? ''}`)
    return { ...test, verifies: named === null ? [] : [...new Set([...named.requirements, ...named.verifies])] }
  })
  await inPieces(results, (piece, isLast) =>
    writeOfBuild(ctx, of, (writer, about) => {
      const digest = piece.map((result) => `${result.suite}/${result.name}=${result.outcome}`).join('\n')
      writer.append({
        ...about.entry,
        kind: 'tests-reported',
        idempotencyKey: `junit/${of.repository}/${about.build}/${hash('sha256', digest, 'base64url')}`,
        body: { ...about.reported, results: piece },
      })
      writer.touch(new Set(piece.flatMap((result) => namedIn(result.name)?.named ?? [])))
      if (isLast) judgeTests(ctx, writer, { repository: of.repository, build: about.build })
    }),
  )
}

async function recordCoverage(ctx: ServiceContext, of: ReportOf, files: readonly FileCoverage[]): Promise<void> {
  const stored = files.map(({ path, covered, missed }) => ({ path, covered: toRanges(covered), missed: toRanges(missed) }))
  await inPieces(stored, (piece, isLast) =>
    writeOfBuild(ctx, of, (writer, about) => {
      const digest = hash('sha256', JSON.stringify(piece), 'base64url')
      writer.append({
        ...about.entry,
        kind: 'coverage-reported',
        idempotencyKey: `coverage/${of.repository}/${about.build}/${digest}`,
        body: { ...about.reported, files: piece },
      })
      // What a build says of its end is waited for: until then more of it may come.
      if (isLast) judgeCoverage(ctx, writer, { repository: of.repository, build: about.build })
    }),
  )
}

/** One write about a build: its number, its items' ladders. */
function writeOfBuild(
  ctx: ServiceContext,
  { repository, commit, build: called, branch, atMs }: ReportOf,
  write: (
    writer: JournalWriter,
    about: {
      build: number
      entry: { actor: string; subjects: string[]; source: string; atMs?: number }
      reported: { repository: string; build: number; sha: string; branch?: string }
    },
  ) => void,
): void {
  ctx.journal.write((writer) => {
    // Without a build, a commit's reports are one build: the one of that commit.
    const build = numberOfBuild(ctx, writer, repository, { name: called ?? commit.slice(0, 12) })
    const subject = `build:${repository}/${build}`
    write(writer, {
      build,
      entry: { actor: 'source:build-service', subjects: [subject], source: subject, ...(atMs !== undefined && { atMs }) },
      reported: { repository, build, sha: commit, ...(branch !== '' && { branch }) },
    })
    const known = sql(ctx.db, GET_BRANCH_OF_BUILD_BY_REPOSITORY_AND_BUILD).get<{ branch: string }>({ repository, build })?.branch ?? ''
    writer.touch(itemsOfBuild(ctx, repository, commit, known))
  })
}
