import { firstLine } from '@dystracer/core/text/first-line'
import { patchStateAt } from '@dystracer/core/code/patch-state'
import type { BuildState, LadderInput, RepositoryFix, TiedPullRequest } from '@dystracer/core/ladder/ladder-input'
import type { Disposition, Stage } from '@dystracer/core/ladder/ladder'
import { splitRepositoryId } from '@dystracer/core/basics/node-ref'
import { sql } from '#platform/db/statements'
import { commitsOfPullRequest, getCommit, graphOf, lineTips, mainTip, servicesTouched } from '#subjects/code/index'
import { type AssertionRow, listAssertions } from '#subjects/records/index'
import {
  GET_BUILD_BY_REPOSITORY_AND_SHA,
  GET_GIT_REF_BY_REPOSITORY_AND_REF,
  GET_ITEM_BY_KEY,
  GET_PULL_REQUEST_BY_REPOSITORY_AND_NUMBER,
  LIST_CLAIM_BY_KEY,
  LIST_VERDICTS_OF_PULL_REQUEST,
  LIST_GIT_REF_BY_REPOSITORY,
  LIST_LINK_ASSERTION_BY_KEY,
  LIST_UNAFFECTED,
} from './ladder-evidence.queries.js'
import { type Reading, readContainingReleases, readProduction, readSilences, readVerifyingTests } from './release-evidence.js'

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
  const faults = new Set(linked(links, 'fault', ['tied']).map((link) => link.to_id))
  if (item.fault) faults.add(item.fault)
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
    silences: readSilences(ctx, { project: item.project, faults }, containing),
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
