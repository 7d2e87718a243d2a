import { hash } from 'node:crypto'
import { Problem } from '@dystracer/core/basics/problem'
import { parseReferences } from '@dystracer/core/text/references'
import type { TestResultBody } from '@dystracer/core/builds/events'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { logFailingTests } from './quality-items.js'
import { readJunit, ReportFormatError } from './reports/junit.js'
import { itemsOfBuild } from './items-of-build.js'
import { keyPrefixes } from '#subjects/records/index'
import { GET_BRANCH_OF_BUILD_BY_REPOSITORY_AND_BUILD, HAS_REPOSITORY_BY_REPOSITORY } from './receive-junit.queries.js'

export function requireRepository(ctx: ServiceContext, repository: string): void {
  if (!sql(ctx.db, HAS_REPOSITORY_BY_REPOSITORY).get({ repository }))
    throw new Problem('not-found', { detail: `No repository ${repository} is connected.` })
}
/** Takes a JUnit XML report of a build. Shards add up; the same report again changes nothing. Gives how many results are in. */
export function receiveJunit(
  ctx: ServiceContext,
  input: { repository: string; commit: string; build: number; xml: string; atMs?: number },
): number {
  requireRepository(ctx, input.repository)
  const prefixes = keyPrefixes(ctx.db)
  let results: TestResultBody[]
  try {
    results = readJunit(input.xml).map(({ properties, ...test }) => {
      const named = parseReferences(`${test.name}\n\nVerifies: ${properties.requirement ?? properties.verifies ?? ''}`, prefixes)
      return { ...test, verifies: [...new Set([...named.requirements, ...named.verifies])] }
    })
  } catch (error) {
    if (error instanceof ReportFormatError)
      throw new Problem('malformed-body', { detail: `The report was not read: ${error.message}. Nothing was stored.` })
    throw error
  }
  const subject = `build:${input.repository}/${input.build}`
  ctx.journal.write((writer) => {
    const { repository, build, commit } = input
    const digest = results.map((result) => `${result.suite}/${result.name}=${result.outcome}`).join('\n')
    writer.append({
      kind: 'tests-reported',
      actor: 'source:build-service',
      subjects: [subject],
      source: subject,
      idempotencyKey: `junit/${repository}/${build}/${hash('sha256', digest, 'base64url')}`,
      ...(input.atMs !== undefined && { atMs: input.atMs }),
      body: { repository, build, sha: commit, results },
    })
    const branch =
      sql(ctx.db, GET_BRANCH_OF_BUILD_BY_REPOSITORY_AND_BUILD).get<{ branch: string }>({
        repository,
        build,
      })?.branch ?? ''
    const named = new Set(results.flatMap((result) => parseReferences(result.name, prefixes).named))
    writer.touch([...itemsOfBuild(ctx, repository, commit, branch), ...named])
    logFailingTests(ctx, writer, { repository, build })
  })
  return results.length
}
