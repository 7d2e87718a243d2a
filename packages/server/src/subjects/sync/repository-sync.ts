import { setImmediate, setTimeout } from 'node:timers/promises'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { requireRoom } from '#platform/files/room'
import { accessOf, graphOf } from '#subjects/code/index'
import { fetchUrl, gitWorker, mirrorDir, reading } from '#subjects/git/index'
import type { RefMove } from './ref-move.js'
import { applyRefMoves, indexCommits, movesTo } from './ref-moves.js'
import {
  GET_FAILURES_OF_REPOSITORY_STATE_BY_REPOSITORY,
  GET_URL_OF_REPOSITORY_BY_REPOSITORY,
  INSERT_REPOSITORY_STATE,
  INSERT_REPOSITORY_STATE_FOR_NOTE_TROUBLE,
  LIST_GIT_REF_BY_REPOSITORY,
  LIST_REPOSITORY_BY_POLL_MS,
} from './repository-sync.queries.js'

/** A first fetch of a large repository takes its time; what stands still is ended by git's own call. */
const FETCH_MS = 24 * 3_600_000
const LIST_MS = 3_600_000
/** Commits asked of git at once, and brought in by one write: short enough that nobody's answer waits for it. */
const READ_AT_ONCE = 2_000
const WRITE_AT_ONCE = 50
/** Lines of a list that are looked at before others have a turn: some milliseconds. */
const LINES_AT_ONCE = 20_000
/** So long a stop waits for what is being read. */
const STOP_MS = 10_000
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
    for (const repository of this.#running.keys()) this.callOff(repository)
    // What git is reading just now may be large; its thread is ended after this, and what was not brought in is read again.
    await Promise.race([Promise.allSettled(this.#running.values()), setTimeout(STOP_MS, undefined, { ref: false })])
  }

  /** Ends the fetch of a repository that is under way; what was read of it stays. */
  callOff(repository: string): void {
    if (!this.#running.has(repository)) return
    void gitWorker(this.#ctx)
      .call('stopFetch', { dir: mirrorDir(this.#ctx, repository) })
      .catch(() => {})
  }

  /** Fetches and indexes soon; resolves when what was there at the call is in. */
  request(repository: string, cause: string): Promise<void> {
    if (this.#isStopped) return Promise.resolve()
    const running = this.#running.get(repository)
    if (running) {
      this.#again.set(repository, cause)
      return running.then(() => this.#running.get(repository))
    }
    const work = this.#syncOnce(repository, cause)
      // Not even the trouble could be noted, such as on a full disk: the next round tries again.
      .catch((error: unknown) => this.#ctx.log.error({ err: error, repository }, 'a fetch could not be noted'))
      .finally(() => {
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
    const isWanted = () =>
      !this.#isStopped && sql(db, GET_URL_OF_REPOSITORY_BY_REPOSITORY).get<{ url: string }>({ repository })?.url === row.url
    try {
      requireRoom(this.#ctx.config)
      const dir = mirrorDir(this.#ctx, repository)
      const git = gitWorker(this.#ctx)
      const onProgress = (words: string) => reading(this.#ctx).set(repository, { words, done: null, of: null })
      const remote = { url: fetchUrl(this.#ctx, row.url), access: accessOf(this.#ctx, repository) }
      const tips = await git.call('fetch', { dir, ...remote }, { deadlineMs: FETCH_MS, onProgress })
      const moves = movesTo(this.#ctx, repository, tips)
      const newCommits = moves.length === 0 ? [] : await this.#readCommits({ dir, repository, moves, isWanted })
      // Read no more, or moved elsewhere, while its fetch was under way: what came in then is nobody's news.
      if (!isWanted()) return
      sql(db, INSERT_REPOSITORY_STATE).run({ repository, nowMs: nowMs() })
      if (moves.length > 0) applyRefMoves(this.#ctx, { repository, moves, newCommits, cause, atMs: nowMs() })
    } catch (error) {
      if (isWanted()) this.#noteTrouble(repository, error)
    } finally {
      reading(this.#ctx).delete(repository)
    }
  }

  /** Indexes what the moves bring, some commits at a time, so that people are answered meanwhile; one that was cut short goes on later. */
  async #readCommits(input: { dir: string; repository: string; moves: readonly RefMove[]; isWanted: () => boolean }): Promise<string[]> {
    const { dir, repository } = input
    const graph = graphOf(this.#ctx, repository)
    const tips = input.moves.flatMap((move) => move.to ?? [])
    if (tips.length === 0) return []
    const known = sql(this.#ctx.db, LIST_GIT_REF_BY_REPOSITORY)
      .all<{ sha: string }>({ repository })
      .map((row) => row.sha)
      .filter((sha) => graph.has(sha))
    const git = gitWorker(this.#ctx)
    const listed = await linesOf(await git.call('newCommits', { dir, tips, known }, { deadlineMs: LIST_MS }))
    const missing: string[] = []
    for (let at = 0; at < listed.length; at += LINES_AT_ONCE) {
      for (const sha of listed.slice(at, at + LINES_AT_ONCE)) if (!graph.has(sha)) missing.push(sha)
      await setImmediate()
    }
    const read = (at: number) => {
      const work = git.call('readCommits', { dir, shas: missing.slice(at, at + READ_AT_ONCE) }, { deadlineMs: LIST_MS })
      // Nobody may wait for it any more by the time at which it fails; whoever does is told.
      work.catch(() => {})
      return work
    }
    let next = read(0)
    for (let at = 0; at < missing.length && input.isWanted(); at += READ_AT_ONCE) {
      const commits = await next
      // git reads on while what it gave is written.
      next = read(at + READ_AT_ONCE)
      for (let from = 0; from < commits.length; from += WRITE_AT_ONCE) {
        indexCommits(this.#ctx, { repository, commits: commits.slice(from, from + WRITE_AT_ONCE), atMs: this.#ctx.nowMs() })
        await setImmediate()
      }
      reading(this.#ctx).set(repository, { words: 'Reading commits', done: at + commits.length, of: missing.length })
    }
    return listed
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

/** The lines of a text of any length, some at a time, with turns for others in between. */
async function linesOf(text: string): Promise<string[]> {
  const lines: string[] = []
  for (let from = 0; from < text.length; ) {
    const end = text.indexOf('\n', from)
    lines.push(text.slice(from, end < 0 ? text.length : end))
    from = end < 0 ? text.length : end + 1
    if (lines.length % LINES_AT_ONCE === 0) await setImmediate()
  }
  return lines
}
