import { followPullRequests, tiePullRequest } from '#subjects/reviews/index'
import { parseReferences } from '@dystracer/core/text/references'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { graphOf } from '#subjects/code/index'
import { toGraphCommit, type RawCommit, type RefTip } from '#subjects/git/index'
import { noteRelease, tieBranch, tieCommit } from './commit-ties.js'
import type { RefMove } from './ref-move.js'
import { itemsConcerned } from './items-concerned.js'
import {
  INSERT_COMMIT_PATHS,
  INSERT_GIT_COMMIT,
  LIST_GIT_REF_FOR_MOVES_TO,
  LIST_PULL_REQUEST_BY_REPOSITORY,
} from './repository-sync.queries.js'

/** An entry of the journal names so many of the commits that came, and says how many there were. */
const NAMED_COMMITS_MAX = 500

/** What has to move, from what is known of a repository to what its remote shows. */
export function movesTo(ctx: ServiceContext, repository: string, tips: readonly RefTip[]): RefMove[] {
  const known = new Map(
    sql(ctx.db, LIST_GIT_REF_FOR_MOVES_TO)
      .all<{ ref: string; sha: string }>({ repository })
      .map((row) => [row.ref, row.sha]),
  )
  const moves: RefMove[] = tips
    .filter((tip) => known.get(tip.ref) !== tip.sha)
    .map((tip) => ({ ref: tip.ref, from: known.get(tip.ref) ?? null, to: tip.sha, isForced: false }))
  const there = new Set(tips.map((tip) => tip.ref))
  for (const [ref, sha] of known) if (!there.has(ref)) moves.push({ ref, from: sha, to: null, isForced: false })
  return moves
}

/**
 * Brings some commits into the index, with the ties that their messages make, in one write; parents come before children. The graph
 * in memory learns of them once they are durable. The same commits again change nothing.
 */
export function indexCommits(ctx: ServiceContext, input: { repository: string; commits: readonly RawCommit[]; atMs: number }): void {
  const { repository, atMs } = input
  const rows = input.commits.map((commit) => toRow(repository, commit, atMs))
  ctx.journal.write((writer) => {
    for (const row of rows) {
      const isNew = sql(ctx.db, INSERT_GIT_COMMIT).run(row).changes > 0
      if (isNew) sql(ctx.db, INSERT_COMMIT_PATHS).run({ repository, sha: row.sha, committed_at_ms: row.committed_at_ms, files: row.files })
      tieCommit(ctx, writer, repository, row.sha, atMs)
    }
  })
  const graph = graphOf(ctx, repository)
  for (const row of rows) graph.add(toGraphCommit(row))
}

/**
 * Moves refs to commits that are indexed, in one write: ties from branch names, releases from tags, pull requests of moved branches,
 * and the ladders of the items that it concerns. The same refs again change nothing.
 */
export function applyRefMoves(
  ctx: ServiceContext,
  input: { repository: string; moves: RefMove[]; newCommits: readonly string[]; cause: string; atMs: number },
): void {
  const { repository, newCommits, atMs } = input
  const graph = graphOf(ctx, repository)
  ctx.journal.write((writer) => {
    const moves = input.moves.map((move) => ({
      ...move,
      isForced: move.from !== null && move.to !== null && (move.ref.startsWith('refs/tags/') || !graph.isReachable(move.from, move.to)),
    }))
    const subjects = [
      `repository:${repository}`,
      ...moves.filter((move) => move.ref.startsWith('refs/heads/')).map((move) => `branch:${repository}/${move.ref.slice(11)}`),
    ]
    writer.append({
      kind: 'refs-moved',
      actor: 'source:git',
      atMs,
      cause: input.cause,
      subjects,
      body: { repository, moves, newCommits: newCommits.slice(-NAMED_COMMITS_MAX), newCommitCount: newCommits.length },
    })
    for (const move of moves) {
      if (move.ref.startsWith('refs/tags/')) noteRelease(ctx, writer, repository, move, atMs)
      else if (move.to) tieBranch(ctx, writer, repository, move.ref.slice(11), atMs)
    }
    followPullRequests(ctx, writer, { repository, moves, atMs })
    for (const number of pullRequestsOf(ctx, repository, moves, newCommits)) tiePullRequest(ctx, writer, { repository, number }, atMs)
    writer.touch(itemsConcerned(ctx, repository, moves))
  })
}

/**
 * Pull requests whose commits came in just now, or whose branch moved: what they name may have changed, also when they were heard of
 * before their commits.
 */
function pullRequestsOf(ctx: ServiceContext, repository: string, moves: readonly RefMove[], newCommits: readonly string[]): number[] {
  const heads = new Set(moves.map((move) => move.ref.slice(11)))
  const rows = sql(ctx.db, LIST_PULL_REQUEST_BY_REPOSITORY).all<{
    number: number
    head: string
    head_sha: string
    merge_sha: string | null
  }>({ repository })
  const asked = new Set(rows.flatMap((row) => [row.head_sha, row.merge_sha ?? row.head_sha]))
  const fresh = new Set(asked.size === 0 ? [] : newCommits.filter((sha) => asked.has(sha)))
  return rows
    .filter((row) => heads.has(row.head) || fresh.has(row.head_sha) || (row.merge_sha !== null && fresh.has(row.merge_sha)))
    .map((row) => row.number)
}

function toRow(repository: string, commit: RawCommit, atMs: number) {
  const refs = parseReferences(commit.message, { items: new Set(), requirements: new Set() })
  return {
    repository,
    sha: commit.sha,
    parents: JSON.stringify(commit.parents),
    patch_id: commit.patchId,
    author_name: commit.authorName,
    author_email: commit.authorEmail,
    author_at_ms: commit.authorAtMs,
    committed_at_ms: commit.committedAtMs,
    message: commit.message,
    reverts: JSON.stringify(refs.reverts),
    files: JSON.stringify(commit.files),
    seen_at_ms: atMs,
  }
}
