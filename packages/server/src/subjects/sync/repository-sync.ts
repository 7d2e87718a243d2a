import { mayIn } from '@dystracer/core/people/standing'
import type { NodeRef } from '@dystracer/core/basics/node-ref'
import { parseReferences, keysInBranchName } from '@dystracer/core/text/references'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { fetchUrl, gitWorker, graphOf, mirrorDir, type RawCommit, type RefTip, tiePullRequest, toGraphCommit } from '#subjects/code/index'
import { projectOf, whoIsPerson } from '#subjects/people/index'
import { assertLink, itemsOfRepository, keyPrefixes, knownKeys } from '#subjects/records/index'
import {
  GET_FAILURES_OF_REPOSITORY_STATE_BY_REPOSITORY,
  GET_GIT_COMMIT_BY_REPOSITORY_AND_SHA,
  GET_PERSON_ID_OF_PERSON_BY_EMAIL,
  GET_SEEN_OF_GIT_COMMIT_BY_REPOSITORY_AND_SHA,
  GET_URL_OF_REPOSITORY_BY_REPOSITORY,
  INSERT_GIT_COMMIT,
  INSERT_REPOSITORY_STATE,
  INSERT_REPOSITORY_STATE_FOR_NOTE_TROUBLE,
  LIST_GIT_COMMIT_BY_REPOSITORY_AND_SHAS,
  LIST_GIT_REF_BY_REPOSITORY,
  LIST_GIT_REF_FOR_MOVES_TO,
  LIST_PULL_REQUEST_BY_REPOSITORY_AND_HEADS,
  LIST_REPOSITORY_BY_POLL_MS,
  LIST_SERVICE_BY_REPOSITORY,
  UPDATE_GIT_COMMIT_SEEN_AT_MS,
} from './repository-sync.queries.js'

export interface RefMove {
  ref: string
  from: string | null
  to: string | null
  isForced: boolean
}
/** A first fetch of a large repository takes its time. */
const FETCH_MS = 3_600_000
const BACKOFF_MIN_MS = 1_000
const BACKOFF_MAX_MS = 5 * 60_000
/**
 * Keeps the mirrors up to date: one fetch per repository at a time, requests meanwhile make one more; failures are kept, shown and tried
 * again with back-off.
 */
export class RepositorySync {
  readonly #ctx: ServiceContext
  readonly #running = new Map<string, Promise<void>>()
  readonly #again = new Map<string, string>()
  #endRounds: () => void = () => {}
  #isStopped = false

  constructor(ctx: ServiceContext) {
    this.#ctx = ctx
  }

  /** Polls all repositories from now on, should an event be missed. */
  start(): void {
    this.#endRounds = this.#ctx.jobs.every({
      name: 'looking for pushes',
      everyMs: Math.min(this.#ctx.config.pollIntervalMs, 1000),
      run: () => {
        for (const repository of this.#due()) void this.request(repository, 'poll')
      },
    })
  }

  async stop(): Promise<void> {
    this.#isStopped = true
    this.#endRounds()
    await Promise.allSettled(this.#running.values())
  }

  /** Fetches and indexes soon; resolves when what was there at the call is in. */
  request(repository: string, cause: string): Promise<void> {
    if (this.#isStopped) return Promise.resolve()
    const running = this.#running.get(repository)
    if (running) {
      this.#again.set(repository, cause)
      return running.then(() => this.#running.get(repository))
    }
    const work = this.#syncOnce(repository, cause).finally(() => {
      this.#running.delete(repository)
      const again = this.#again.get(repository)
      this.#again.delete(repository)
      if (again !== undefined) void this.request(repository, again)
    })
    this.#running.set(repository, work)
    return work
  }

  #due(): string[] {
    const { db, config, nowMs } = this.#ctx
    return sql(db, LIST_REPOSITORY_BY_POLL_MS)
      .all<{ name: string }>({ nowMs: nowMs(), pollMs: config.pollIntervalMs })
      .map((row) => row.name)
  }

  async #syncOnce(repository: string, cause: string): Promise<void> {
    const { db, nowMs } = this.#ctx
    const row = sql(db, GET_URL_OF_REPOSITORY_BY_REPOSITORY).get<{ url: string }>({ repository })
    if (!row) return
    try {
      const dir = mirrorDir(this.#ctx, repository)
      const tips = await gitWorker(this.#ctx).call('fetch', { dir, url: fetchUrl(this.#ctx, row.url) }, { deadlineMs: FETCH_MS })
      const moves = movesTo(this.#ctx, repository, tips)
      const commits = moves.length > 0 ? await this.#readCommits(dir, repository, moves) : []
      const state = sql(db, INSERT_REPOSITORY_STATE)
      state.run({ repository, nowMs: nowMs() })
      if (moves.length > 0) applyRefMoves(this.#ctx, { repository, moves, commits, cause, atMs: nowMs() })
    } catch (error) {
      this.#noteTrouble(repository, error)
    }
  }

  #readCommits(dir: string, repository: string, moves: readonly RefMove[]): Promise<RawCommit[]> {
    const graph = graphOf(this.#ctx, repository)
    const tips = moves.flatMap((move) => (move.to && !graph.get(move.to) ? [move.to] : []))
    if (tips.length === 0) return Promise.resolve([])
    const known = sql(this.#ctx.db, LIST_GIT_REF_BY_REPOSITORY)
      .all<{ sha: string }>({ repository })
      .map((row) => row.sha)
      .filter((sha) => graph.get(sha))
    return gitWorker(this.#ctx).call('newCommits', { dir, tips, known })
  }

  #noteTrouble(repository: string, error: unknown): void {
    const { db, nowMs, log } = this.#ctx
    const trouble = error instanceof Error ? error.message.slice(0, 500) : String(error)
    log.warn({ repository, trouble }, 'repository could not be fetched')
    const failures = (sql(db, GET_FAILURES_OF_REPOSITORY_STATE_BY_REPOSITORY).get<{ failures: number }>({ repository })?.failures ?? 0) + 1
    const retryAtMs = nowMs() + Math.min(BACKOFF_MAX_MS, BACKOFF_MIN_MS * 2 ** Math.min(failures - 1, 12))
    sql(db, INSERT_REPOSITORY_STATE_FOR_NOTE_TROUBLE).run({ repository, trouble, retryAtMs, failures })
  }
}
function movesTo(ctx: ServiceContext, repository: string, tips: readonly RefTip[]): RefMove[] {
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
 * Brings moved refs and their commits in, in one write: index rows, ties from messages and branch names, releases from tags, pull requests
 * of moved branches. The same
 * refs again change nothing.
 */
export function applyRefMoves(
  ctx: ServiceContext,
  input: { repository: string; moves: RefMove[]; commits: readonly RawCommit[]; cause: string; atMs: number },
): void {
  const { repository, atMs } = input
  const graph = graphOf(ctx, repository)
  ctx.journal.write((writer) => {
    for (const commit of input.commits) indexCommit(ctx, repository, commit)
    const moves = input.moves.map((move) => ({
      ...move,
      isForced: move.from !== null && move.to !== null && (move.ref.startsWith('refs/tags/') || !graph.isReachable(move.from, move.to)),
    }))
    const fresh = markSeen(ctx, repository, moves, atMs)
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
      body: { repository, moves, newCommits: fresh },
    })
    for (const sha of fresh) tieCommit(ctx, writer, repository, sha, atMs)
    for (const move of moves) {
      if (move.ref.startsWith('refs/tags/')) noteRelease(ctx, writer, repository, move, atMs)
      else if (move.to) tieBranch(ctx, writer, repository, move.ref.slice(11), atMs)
    }
    for (const number of pullRequestsOf(ctx, repository, moves, fresh)) tiePullRequest(ctx, writer, { repository, number }, atMs)
    writer.touch(itemsOfRepository(ctx, repository))
  })
}
/**
 * Pull requests whose commits came in just now, or whose branch moved: what they name may have changed, also when they were heard of before
 * their commits.
 */
function pullRequestsOf(ctx: ServiceContext, repository: string, moves: readonly RefMove[], fresh: readonly string[]): number[] {
  return sql(ctx.db, LIST_PULL_REQUEST_BY_REPOSITORY_AND_HEADS)
    .all<{ number: number }>({ repository, heads: JSON.stringify(moves.map((move) => move.ref.slice(11))), shas: JSON.stringify(fresh) })
    .map((row) => row.number)
}
function indexCommit(ctx: ServiceContext, repository: string, commit: RawCommit): void {
  const refs = parseReferences(commit.message, { items: new Set(), requirements: new Set() })
  const row = {
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
  }
  sql(ctx.db, INSERT_GIT_COMMIT).run(row)
  graphOf(ctx, repository).add(toGraphCommit(row))
}
/** Commits that stand on a ref for the first time, oldest first. */
function markSeen(ctx: ServiceContext, repository: string, moves: readonly RefMove[], atMs: number): string[] {
  const isSeen = (sha: string) =>
    sql(ctx.db, GET_SEEN_OF_GIT_COMMIT_BY_REPOSITORY_AND_SHA).get<{ seen: number | null }>({
      repository,
      sha,
    })?.seen != null
  const fresh = graphOf(ctx, repository).walk(
    moves.flatMap((move) => move.to ?? []),
    isSeen,
  )
  for (const sha of fresh) sql(ctx.db, UPDATE_GIT_COMMIT_SEEN_AT_MS).run({ repository, sha, atMs })
  return sql(ctx.db, LIST_GIT_COMMIT_BY_REPOSITORY_AND_SHAS)
    .all<{ sha: string }>({ repository, shas: JSON.stringify([...fresh]) })
    .map((row) => row.sha)
}
function tieCommit(ctx: ServiceContext, writer: JournalWriter, repository: string, sha: string, atMs: number): void {
  const row = sql(ctx.db, GET_GIT_COMMIT_BY_REPOSITORY_AND_SHA).get<{
    message: string
    author_name: string
    author_email: string
    author_at_ms: number
    patch_id: string | null
  }>({ repository, sha })
  if (!row) return
  const refs = parseReferences(row.message, keyPrefixes(ctx.db))
  const to: NodeRef = { kind: 'commit', id: `${repository}/${sha}` }
  const common = {
    to,
    provenance: 'commit' as const,
    source: `commit:${to.id}`,
    statedBy: row.author_name,
    actor: 'source:git',
    atMs,
    cause: `commit ${sha.slice(0, 7)}`,
  }
  const keys = knownKeys(ctx.db, refs.named)
  const fixes = new Set(refs.fixes.map((fix) => fix.key))
  for (const key of keys)
    assertLink(ctx.db, writer, { ...common, kind: fixes.has(key) ? 'fixes' : 'tied', from: { kind: 'item', id: key } })
  for (const key of refs.requirements) assertLink(ctx.db, writer, { ...common, kind: 'tied', from: { kind: 'requirement', id: key } })
  bookTimes(ctx, writer, { keys, row, repository, sha, refs: refs.times })
}
/** `Time:` acts only for the address of a verified account that may write, and once per patch (docs/rules.md#acting-text). */
function bookTimes(
  ctx: ServiceContext,
  writer: JournalWriter,
  input: {
    keys: string[]
    row: { author_email: string; author_at_ms: number; patch_id: string | null }
    repository: string
    sha: string
    refs: { minutes: number; on: string | null }[]
  },
): void {
  const person = sql(ctx.db, GET_PERSON_ID_OF_PERSON_BY_EMAIL).get<{ person_id: string }>({
    email: input.row.author_email,
  })
  if (!person) return
  const who = whoIsPerson(ctx.db, person.person_id)
  for (const key of input.keys.filter((each) => mayIn(who, 'time.book', projectOf(each)))) {
    for (const [index, time] of input.refs.entries()) {
      const entryId = `${input.row.patch_id ?? input.sha}/${index}/${key}`
      writer.append({
        kind: 'time-booked',
        // A commit names its author itself: whose time it is, is what it tells, not who acted here.
        actor: 'source:git',
        subjects: [`item:${key}`],
        cause: `commit ${input.sha.slice(0, 7)}`,
        source: `commit:${input.repository}/${input.sha}`,
        idempotencyKey: `time/${entryId}`,
        body: {
          entryId,
          key,
          personId: person.person_id,
          minutes: time.minutes,
          onDay: time.on ?? new Date(input.row.author_at_ms).toISOString().slice(0, 10),
          provenance: 'commit',
        },
      })
    }
  }
}
function tieBranch(ctx: ServiceContext, writer: JournalWriter, repository: string, name: string, atMs: number): void {
  const to: NodeRef = { kind: 'branch', id: `${repository}/${name}` }
  for (const key of knownKeys(ctx.db, keysInBranchName(name, keyPrefixes(ctx.db)))) {
    assertLink(ctx.db, writer, {
      kind: 'tied',
      from: { kind: 'item', id: key },
      to,
      provenance: 'branch-name',
      source: `branch:${to.id}`,
      statedBy: null,
      actor: 'source:git',
      atMs,
      cause: `branch ${name}`,
    })
  }
}
/**
 * A tag with the prefix of a service of this repository is a release of it; a tag that moved is kept with a mark, a tag that went changes
 * nothing.
 */
function noteRelease(ctx: ServiceContext, writer: JournalWriter, repository: string, move: RefMove, atMs: number): void {
  const tag = move.ref.slice(10)
  if (!move.to) return
  for (const service of sql(ctx.db, LIST_SERVICE_BY_REPOSITORY).all<{
    name: string
    tag_prefix: string
  }>({ repository })) {
    if (!tag.startsWith(service.tag_prefix)) continue
    const name = tag.slice(service.tag_prefix.length)
    if (!/^\d/.test(name)) continue
    writer.append({
      kind: 'release-found',
      actor: 'source:git',
      atMs,
      subjects: [`release:${service.name}@${name}`, `repository:${repository}`],
      cause: `tag ${tag}`,
      idempotencyKey: `release/${service.name}/${name}/${move.to}`,
      body: { service: service.name, name, tag, sha: move.to, isRewritten: move.from !== null },
    })
  }
}
