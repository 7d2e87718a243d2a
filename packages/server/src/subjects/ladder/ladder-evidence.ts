import { firstLine } from '@dystracer/core/text/first-line'
import { namesKey } from '@dystracer/core/text/references'
import { judgeSilence } from '@dystracer/core/ladder/silence'
import { patchStateAt } from '@dystracer/core/code/patch-state'
import type {
  BuildState,
  FaultSilence,
  LadderInput,
  ProductionRun,
  RepositoryFix,
  TiedPullRequest,
} from '@dystracer/core/ladder/ladder-input'
import type { Disposition, Stage } from '@dystracer/core/ladder/ladder'
import { splitRepositoryId } from '@dystracer/core/basics/node-ref'
import { sql } from '#platform/db/statements'
import type { ServiceContext } from '#platform/context'
import { commitsOfPullRequest, containsAll, getCommit, graphOf, lineTips, mainTip, servicesTouched } from '#subjects/code/index'
import { projectOf } from '#subjects/people/index'
import { type AssertionRow, listAssertions } from '#subjects/records/index'
import {
  GET_BUILD_BY_REPOSITORY_AND_SHA,
  GET_COUNT_OF_ACTIVITY_MINUTE_BY_SERVICE_AND_FROM,
  GET_FAULT_BY_NUMBER,
  GET_FAULT_GROUP_BY_FINGERPRINT,
  GET_FAULT_RELEASE_BY_FINGERPRINT_AND_FIXED,
  GET_GIT_REF_BY_REPOSITORY_AND_REF,
  GET_ITEM_BY_KEY,
  GET_PULL_REQUEST_BY_REPOSITORY_AND_NUMBER,
  GET_SILENCE_MS_OF_PROJECT_BY_PROJECT,
  GET_SINCE_MS_OF_DEPLOYMENT_BY_SERVICE_AND_FIXED,
  HAS_ENVIRONMENT,
  LIST_CLAIM_BY_KEY,
  LIST_VERDICTS_OF_PULL_REQUEST,
  LIST_GIT_REF_BY_REPOSITORY,
  LIST_LINK_ASSERTION_BY_KEY,
  LIST_RELEASE_BY_REPOSITORY,
  LIST_DONE_FOR_ITEM,
  LIST_RELEASE_BY_SERVICE_AND_RELEASE,
  LIST_SERVICE_BY_REPOSITORY,
  LIST_UNAFFECTED,
} from './ladder-evidence.queries.js'

interface ItemEvidenceRow {
  key: string
  logged_cause: LadderInput['logged']['cause']
  logged_by: string
  fault: string | null
  created_at_ms: number
  accepted_at_ms: number | null
  accepted_by: string | null
  started_at_ms: number | null
  started_by: string | null
  disposition: Disposition | null
  disposed_at_ms: number | null
  disposed_by: string | null
  verified_at_ms: number | null
  verified_by: string | null
  project: string
  baseline_stage: Stage | null
  baseline_words: string | null
  baseline_at_ms: number | null
  baseline_by: string | null
}
type Reading = Pick<ServiceContext, 'db' | 'volume' | 'use' | 'nowMs'>

/**
 * Everything that the ladder of an item rests on, read from the tables, the commit graphs and the volume counters. Null when there is no
 * such item.
 */
export function readLadderInput(ctx: Reading, key: string): LadderInput | null {
  const item = sql(ctx.db, GET_ITEM_BY_KEY).get<ItemEvidenceRow>({ key })
  if (!item) return null
  const links = listAssertions(ctx.db, { kind: 'item', id: key })
  const pullRequests = readPullRequests(ctx, links)
  const allPatches = readPatches(ctx, links)
  const unaffected = new Map(
    sql(ctx.db, LIST_UNAFFECTED)
      .all<{ repository: string; by: string; atMs: number; words: string }>({ key })
      .map(({ repository, ...declared }) => [repository, declared]),
  )
  // What a repository need not hold is not asked of its releases either.
  const patches = new Map([...allPatches].filter(([repository]) => !unaffected.has(repository)))
  const touched = new Set([...patches].flatMap(([repository, patchIds]) => [...servicesTouched(ctx, repository, patchIds)]))
  const containing = readContainingReleases(ctx, patches, touched)
  return {
    parts: readParts(ctx, key),
    logged: { by: item.logged_by, atMs: item.created_at_ms, cause: item.logged_cause, fault: item.fault },
    accepted: act(item.accepted_by, item.accepted_at_ms),
    started: act(item.started_by, item.started_at_ms),
    branches: readBranches(ctx, links),
    commits: readCommits(ctx, links),
    pullRequests,
    fixes: readFixes(ctx, allPatches, unaffected),
    production: readProduction(ctx, patches, touched),
    containingReleases: containing,
    verifyingTests: readVerifyingTests(ctx, key, containing),
    silences: readSilences(ctx, item, links, containing),
    verified: act(item.verified_by, item.verified_at_ms),
    claims: sql(ctx.db, LIST_CLAIM_BY_KEY)
      .all<{
        stage: Stage
        by: string
        atMs: number
        acceptedBy: string | null
        acceptedAtMs: number | null
        acceptedWords: string | null
      }>({
        key,
      })
      .map(({ acceptedBy, acceptedAtMs, acceptedWords, ...claim }) => ({
        ...claim,
        accepted: acceptedBy === null || acceptedAtMs === null ? null : { by: acceptedBy, atMs: acceptedAtMs, words: acceptedWords ?? '' },
      })),
    baseline:
      item.baseline_stage === null
        ? null
        : { stage: item.baseline_stage, words: item.baseline_words ?? '', by: item.baseline_by, atMs: item.baseline_at_ms ?? 0 },
    rejected:
      item.disposition && item.disposed_at_ms !== null
        ? { disposition: item.disposition, by: item.disposed_by, atMs: item.disposed_at_ms }
        : null,
  }
}

/** Sub-items with where they stand now; their ladders are computed before their parent's. */
function readParts(ctx: Reading, key: string): LadderInput['parts'] {
  return sql(ctx.db, LIST_LINK_ASSERTION_BY_KEY)
    .all<{ key: string; stage: Stage; disposition: string | null; has_come_back: number }>({ key })
    .map((row) => ({ key: row.key, stage: row.stage, isRejected: row.disposition !== null, hasComeBack: row.has_come_back === 1 }))
}

function act(by: string | null, atMs: number | null): { by: string | null; atMs: number } | null {
  return atMs === null ? null : { by, atMs }
}

/** Ends of standing links to one kind of thing, each once, oldest first. */
function linked(links: readonly AssertionRow[], toKind: string, kinds: readonly string[]): AssertionRow[] {
  const seen = new Set<string>()
  return links.filter((link) => link.to_kind === toKind && kinds.includes(link.kind) && !seen.has(link.to_id) && seen.add(link.to_id))
}

function readBranches(ctx: Reading, links: readonly AssertionRow[]) {
  return linked(links, 'branch', ['tied']).flatMap((link) => {
    const parts = splitRepositoryId(link.to_id)
    if (!parts) return []
    const row = sql(ctx.db, GET_GIT_REF_BY_REPOSITORY_AND_REF).get<{
      deleted_at_ms: number | null
      first_seen_at_ms: number
    }>({ repository: parts.repository, ref: `refs/heads/${parts.rest}` })
    return [
      { repository: parts.repository, name: parts.rest, atMs: row?.first_seen_at_ms ?? link.at_ms, isGone: row?.deleted_at_ms != null },
    ]
  })
}

function readCommits(ctx: Reading, links: readonly AssertionRow[]) {
  return linked(links, 'commit', ['tied', 'fixes'])
    .flatMap((link) => {
      const parts = splitRepositoryId(link.to_id)
      const row = parts && getCommit(ctx.db, parts.repository, parts.rest)
      return row
        ? [
            {
              repository: row.repository,
              sha: row.sha,
              subject: firstLine(row.message),
              author: row.author_name,
              atMs: row.committed_at_ms,
            },
          ]
        : []
    })
    .sort((a, b) => a.atMs - b.atMs)
}

interface PullRequestRow {
  repository: string
  number: number
  state: TiedPullRequest['state']
  author: string
  created_at_ms: number
  head_sha: string
  merge_sha: string | null
  base_sha: string | null
}

function pullRequestRow(ctx: Reading, id: string): PullRequestRow | undefined {
  const parts = splitRepositoryId(id)
  return parts
    ? sql(ctx.db, GET_PULL_REQUEST_BY_REPOSITORY_AND_NUMBER).get<PullRequestRow>({
        repository: parts.repository,
        number: Number(parts.rest),
      })
    : undefined
}

function readPullRequests(ctx: Reading, links: readonly AssertionRow[]): TiedPullRequest[] {
  return linked(links, 'pull-request', ['tied', 'fixes']).flatMap((link) => {
    const row = pullRequestRow(ctx, link.to_id)
    if (!row) return []
    const build = sql(ctx.db, GET_BUILD_BY_REPOSITORY_AND_SHA).get<{
      number: number
      name: string
      state: BuildState
      failed: number
      total: number
    }>({ repository: row.repository, sha: row.head_sha })
    return [
      {
        reviews: sql(ctx.db, LIST_VERDICTS_OF_PULL_REQUEST).all<TiedPullRequest['reviews'][number]>({
          repository: row.repository,
          number: row.number,
        }),
        repository: row.repository,
        number: row.number,
        state: row.state,
        author: row.author,
        atMs: row.created_at_ms,
        build: build ?? null,
      },
    ]
  })
}

/**
 * The contributions: patches by repository, from commits and pull requests that are tied as a fix and reachable from a live ref
 * (docs/rules.md#contribution).
 */
function readPatches(ctx: Reading, links: readonly AssertionRow[]): Map<string, string[]> {
  const patches = new Map<string, string[]>()
  const add = (repository: string, sha: string) => {
    const patchId = graphOf(ctx, repository).get(sha)?.patchId
    const list = patches.get(repository) ?? []
    patches.set(repository, list)
    if (patchId && !list.includes(patchId)) list.push(patchId)
  }
  for (const link of linked(links, 'commit', ['fixes'])) {
    const parts = splitRepositoryId(link.to_id)
    if (parts && isLive(ctx, parts.repository, parts.rest)) add(parts.repository, parts.rest)
  }
  for (const link of linked(links, 'pull-request', ['fixes'])) {
    const row = pullRequestRow(ctx, link.to_id)
    if (!row || row.state === 'closed') continue
    for (const sha of commitsOfPullRequest(ctx, row)) add(row.repository, sha)
  }
  return patches
}

function isLive(ctx: Reading, repository: string, sha: string): boolean {
  const graph = graphOf(ctx, repository)
  const main = mainTip(ctx.db, repository)
  if (main && graph.isReachable(sha, main)) return true
  return sql(ctx.db, LIST_GIT_REF_BY_REPOSITORY)
    .all<{ sha: string }>({ repository })
    .some((ref) => graph.isReachable(sha, ref.sha))
}

function readFixes(
  ctx: Reading,
  patches: ReadonlyMap<string, string[]>,
  unaffected: ReadonlyMap<string, NonNullable<RepositoryFix['unaffected']>>,
): RepositoryFix[] {
  // One that was declared without holding anything of the fix is told as well.
  const repositories = [...new Set([...patches.keys(), ...unaffected.keys()])]
  return repositories.map((repository) => {
    const patchIds = patches.get(repository) ?? []
    const graph = graphOf(ctx, repository)
    // Of the lines that count as main, the one that has most of the fix; the main line where that has as much.
    const [best = { branch: null, states: [], standing: [] }] = lineTips(ctx.db, repository)
      .map(({ branch, isMain, sha }) => {
        const states = patchIds.map((patchId) => patchStateAt(graph, sha, patchId))
        return { branch: isMain ? null : branch, states, standing: states.filter((state) => state.isIn) }
      })
      .sort((a, b) => b.standing.length - a.standing.length)
    const { branch, states, standing } = best
    const newest = standing
      .flatMap((state) => state.carriers)
      .map((sha) => getCommit(ctx.db, repository, sha))
      .filter((row) => row !== undefined)
      .sort((a, b) => b.committed_at_ms - a.committed_at_ms)[0]
    return {
      repository,
      line: branch,
      patches: patchIds.length,
      patchesOnMain: standing.length,
      mainSha: newest?.sha ?? null,
      mainAtMs: newest?.committed_at_ms ?? null,
      revertedBy: states.find((state) => !state.isIn && state.reverters.length > 0)?.reverters[0] ?? null,
      unaffected: unaffected.get(repository) ?? null,
    }
  })
}

interface ReleaseRow {
  service: string
  name: string
  sha: string
  at_ms: number
  repository: string
}

function releasesOf(ctx: Reading, repository: string): ReleaseRow[] {
  return sql(ctx.db, LIST_RELEASE_BY_REPOSITORY).all<ReleaseRow>({ repository })
}

function readContainingReleases(
  ctx: Reading,
  patches: ReadonlyMap<string, string[]>,
  touched: ReadonlySet<string>,
): LadderInput['containingReleases'] {
  return [...patches].flatMap(([repository, patchIds]) =>
    releasesOf(ctx, repository)
      .filter((release) => touched.has(release.service) && containsAll(graphOf(ctx, repository), release.sha, patchIds))
      .map((release) => ({ service: release.service, release: release.name, atMs: release.at_ms })),
  )
}

/** What runs in production now, for each service that the fix touches. */
function readProduction(ctx: Reading, patches: ReadonlyMap<string, string[]>, touched: ReadonlySet<string>): ProductionRun[] | null {
  const hasProduction = sql(ctx.db, HAS_ENVIRONMENT).get({})
  if (!hasProduction) return null
  const runs: ProductionRun[] = []
  for (const [repository, patchIds] of patches) {
    const graph = graphOf(ctx, repository)
    const rows = sql(ctx.db, LIST_SERVICE_BY_REPOSITORY).all<{
      service: string
      release: string
      environment: string
      running_at_ms: number
      state: string
      sha: string | null
    }>({ repository })
    for (const now of rows.filter((row) => row.state === 'running' && touched.has(row.service))) {
      const contains = (sha: string | null) => sha !== null && containsAll(graph, sha, patchIds)
      const isOlderWithFix = rows.some(
        (row) => row.state !== 'running' && row.service === now.service && row.environment === now.environment && contains(row.sha),
      )
      runs.push({
        environment: now.environment,
        service: now.service,
        release: now.release,
        atMs: now.running_at_ms,
        containsFix: contains(now.sha),
        isRolledBack: isOlderWithFix && !contains(now.sha),
      })
    }
  }
  return runs
}

/**
 * Results of the tests whose name bears the item's key, and of test cases that verify it, on the
 * newest containing release that was built.
 */
function readVerifyingTests(ctx: Reading, key: string, containing: LadderInput['containingReleases']): LadderInput['verifyingTests'] {
  const newest = containing.at(-1)
  if (!newest) return []
  const byProgram = sql(ctx.db, LIST_RELEASE_BY_SERVICE_AND_RELEASE)
    .all<{ name: string; outcome: string }>({ service: newest.service, release: newest.release, key })
    .filter((row) => namesKey(row.name, key))
    .map((row) => ({ name: row.name, passed: row.outcome === 'passed', release: newest.release }))
  const byHand = sql(ctx.db, LIST_DONE_FOR_ITEM)
    .all<{ number: number; environment: string; outcome: string }>({
      project: projectOf(key),
      key,
      release: `${newest.service}@${newest.release}`,
    })
    .filter(({ outcome }) => outcome === 'passed' || outcome === 'failed')
    .map((row) => ({ name: `case ${row.number} in ${row.environment}`, passed: row.outcome === 'passed', release: newest.release }))
  return [...byProgram, ...byHand]
}

function readSilences(
  ctx: Reading,
  item: ItemEvidenceRow,
  links: readonly AssertionRow[],
  containing: LadderInput['containingReleases'],
): FaultSilence[] {
  const faults = new Set(linked(links, 'fault', ['tied']).map((link) => link.to_id))
  if (item.fault) faults.add(item.fault)
  const neededMs = sql(ctx.db, GET_SILENCE_MS_OF_PROJECT_BY_PROJECT).get<{ silence_ms: number }>({ project: item.project })?.silence_ms ?? 0
  return [...faults].flatMap((fault) => {
    const row = sql(ctx.db, GET_FAULT_BY_NUMBER).get<{ fingerprint: string; service: string }>({
      number: Number(fault.slice(2)),
    })
    return row && containing.length > 0 ? [readSilence(ctx, fault, row, containing, neededMs)] : []
  })
}

function readSilence(
  ctx: Reading,
  fault: string,
  { fingerprint, service }: { fingerprint: string; service: string },
  containing: LadderInput['containingReleases'],
  neededMs: number,
): FaultSilence {
  const fixed = JSON.stringify(containing.filter((release) => release.service === service).map((release) => release.release))
  const seen =
    sql(ctx.volume, GET_FAULT_RELEASE_BY_FINGERPRINT_AND_FIXED).get<{ release: string; environment: string; atMs: number }>({
      fingerprint,
      fixed,
    }) ?? null
  const since =
    sql(ctx.db, GET_SINCE_MS_OF_DEPLOYMENT_BY_SERVICE_AND_FIXED).get<{ sinceMs: number | null }>({ service, fixed })?.sinceMs ?? null
  const span = sql(ctx.volume, GET_FAULT_GROUP_BY_FINGERPRINT).get<{
    first_at_ms: number
    last_at_ms: number
    count: number
  }>({ fingerprint })
  const before = span ? countActivity(ctx, { service, fixed, isFixed: false, fromMs: span.first_at_ms, toMs: span.last_at_ms }) : 0
  const exercised = since === null ? 0 : countActivity(ctx, { service, fixed, isFixed: true, fromMs: since, toMs: ctx.nowMs() })
  const verdict = judgeSilence({
    nowMs: ctx.nowMs(),
    fixedSinceMs: since,
    lastSeenInFixedRelease: seen,
    neededMs,
    exercisedSince: exercised,
    requestsPerOccurrence: span && before > 0 ? before / span.count : null,
  })
  return { fault, verdict, sinceMs: since, neededMs, exercised, seenIn: seen }
}

function countActivity(ctx: Reading, input: { service: string; fixed: string; isFixed: boolean; fromMs: number; toMs: number }): number {
  return (
    sql(ctx.volume, GET_COUNT_OF_ACTIVITY_MINUTE_BY_SERVICE_AND_FROM).get<{ count: number }>({
      service: input.service,
      from: Math.floor(input.fromMs / 60_000),
      to: Math.floor(input.toMs / 60_000),
      fixed: input.fixed,
      isFixed: Number(input.isFixed),
      fromMs: input.fromMs,
    })?.count ?? 0
  )
}
