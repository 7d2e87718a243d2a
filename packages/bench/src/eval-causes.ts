import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { groupFailures, type FailedTest } from '@dystracer/core/builds/failure-groups'
import { guessReportFormat } from '@dystracer/core/builds/report-format'
import { readReport } from '@dystracer/core/builds/reports/read-report'
import type { TestCase } from '@dystracer/core/builds/reports/report'
import { findSuspects } from '@dystracer/server/subjects/git/suspects'
import { readLines, type Say } from './eval.js'

const CAUSES_MAX = 20

interface CauseCase {
  id: string
  repository: string
  lastGood: string
  firstBad: string
  stacktrace: string
}
interface Build {
  build: string | number
  repository: string
  commit: string
  atMs: number
  reports: string[]
}

/** For each failure of `cases.jsonl` the commits between good and bad, likeliest first; nothing where there is none between. */
export async function evalCauses(folder: string, say: Say): Promise<void> {
  for (const { id, repository, lastGood, firstBad, stacktrace } of readLines<CauseCase>(join(folder, 'cases.jsonl'))) {
    const suspects = await findSuspects(repositoryIn(folder, repository), { lastGood, firstBad, message: stacktrace, names: [] })
    say(JSON.stringify({ id, commits: suspects.slice(0, CAUSES_MAX).map(({ sha, score }) => ({ sha, score: rounded(score) })) }))
  }
}

/**
 * For each build of `builds.jsonl` in which tests newly fail (they passed, or were not there, in the newest build before of that
 * repository that ran them): the failures by likely common cause, and for each test the commits that may have brought it in.
 */
export async function evalFailures(folder: string, say: Say): Promise<void> {
  const lastOutcome = new Map<string, { commit: string; outcome: TestCase['outcome'] }>()
  const lastCommit = new Map<string, string>()
  for (const { build, repository, commit, reports } of readLines<Build>(join(folder, 'builds.jsonl'))) {
    const cases = reports.flatMap((file) => casesOf(join(folder, file)))
    const keyOf = (test: TestCase) => JSON.stringify([repository, test.suite, test.name])
    const broken = cases.filter((test) => test.outcome === 'failed' && lastOutcome.get(keyOf(test))?.outcome !== 'failed')
    if (broken.length > 0) {
      const failures: FailedTest[] = broken.map(({ suite, name, message }) => ({ suite, name, message }))
      const guilty = await Promise.all(
        broken.map(async (test) => {
          const lastGood = lastOutcome.get(keyOf(test))?.commit ?? lastCommit.get(repository)
          const suspects =
            lastGood === undefined
              ? []
              : await findSuspects(repositoryIn(folder, repository), {
                  lastGood,
                  firstBad: commit,
                  message: test.message,
                  names: [test.name, test.suite],
                })
          return { test: test.name, commits: suspects.slice(0, CAUSES_MAX).map(({ sha }) => sha) }
        }),
      )
      const groups = groupFailures(failures).map(({ tests }) => tests.map((at) => failures[at]?.name ?? ''))
      say(JSON.stringify({ build, groups, guilty }))
    }
    for (const test of cases) if (test.outcome !== 'skipped') lastOutcome.set(keyOf(test), { commit, outcome: test.outcome })
    lastCommit.set(repository, commit)
  }
}

function casesOf(path: string): TestCase[] {
  const bytes = readFileSync(path)
  const content = readReport(guessReportFormat(bytes.toString('utf8')) ?? 'junit', bytes)
  return content.kind === 'tests' ? content.cases : []
}

/** A bare repository of the folder: by its name, with or without `.git`; the only one there where the name fits none. */
function repositoryIn(folder: string, name: string): string {
  const found = [name, `${name}.git`].map((each) => join(folder, each)).find((path) => existsSync(join(path, 'objects')))
  if (found) return found
  const all = readdirSync(folder, { withFileTypes: true })
    .filter((entry) => entry.isDirectory() && existsSync(join(folder, entry.name, 'objects')))
    .map((entry) => join(folder, entry.name))
  if (all.length === 1) return all[0] as string
  throw new Error(`there is no bare repository ${name} in ${folder}`)
}

function rounded(score: number): number {
  return Math.round(score * 1000) / 1000
}
