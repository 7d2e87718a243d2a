import { setImmediate } from 'node:timers/promises'
import { Problem } from '@dystracer/core/basics/problem'
import { cutLines } from '@dystracer/core/build-logs/log-lines'
import { readNotableLine } from '@dystracer/core/build-logs/notable-line'
import { LOG_BYTES_MAX, type buildLogsPaths, type zTakenLog } from '@dystracer/core/build-logs/wire'
import type { z } from 'zod'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { ensureBuild, requireRepository } from '#subjects/builds/index'
import { addPiece, contentOf, piecesOf } from './pieces.js'
import {
  DELETE_LOG,
  DELETE_MARKS,
  DELETE_PIECES,
  GET_ATTEMPT_OF_RUN,
  GET_LOG_BY_ID,
  GET_NEWEST_ATTEMPT,
  HAS_MARK,
  INSERT_LOG,
  INSERT_MARK,
  LIST_OLD_LOGS,
  UPDATE_LOG,
  type LogRow,
} from './build-logs.queries.js'

/** So much is written at once; others are answered in between. */
const WRITE_BYTES = 256 * 1024
/** Bytes without a line break are a line of their own from here on. */
const REST_BYTES_MAX = 64 * 1024
/** Errors and warnings that are kept of one log; more are counted. */
const MARKS_MAX = 200

/** What a step of a build printed, as it is sent: `from` says how many bytes of the log came before. */
export type SentLog = z.output<NonNullable<typeof buildLogsPaths.takeBuildLog.query>>

/**
 * Takes a piece of what a step of a build printed. What is here already is compared and not added again, so that
 * a piece may be sent twice; one with another word for its run, or without a word one that begins otherwise, is a
 * further attempt of its step. A build that nobody told of yet begins by it. Throws `not-found` for an unknown
 * repository, `conflict` for a piece that comes before those ahead of it (with the bytes that are here) or that
 * differs from them.
 */
export async function takeBuildLog(ctx: ServiceContext, sent: SentLog, body: Buffer): Promise<z.output<typeof zTakenLog>> {
  requireRepository(ctx, sent.repository)
  const build = ensureBuild(ctx, { ...sent, sha: sent.commit, by: 'build-log' })
  const { repository, step, run } = sent
  const newest = sql(ctx.db, GET_NEWEST_ATTEMPT).get<LogRow>({ repository, build, step })
  // Without a word for the run, what begins as the newest attempt does is that attempt.
  const own = run === '' ? newest : sql(ctx.db, GET_ATTEMPT_OF_RUN).get<LogRow>({ repository, build, step, run })
  if (sent.from > (own?.bytes ?? 0)) throw tooFar(own?.bytes ?? 0)
  const known = body.subarray(0, (own?.bytes ?? 0) - sent.from)
  const isSame = own !== undefined && (await begins(ctx, own, sent.from, known))
  if (own && !isSame && (sent.from > 0 || run !== ''))
    throw new Problem('conflict', {
      detail: `What is here of this log from byte ${sent.from} on differs; a further attempt begins at from=0, with another run.`,
    })
  const logId = isSame ? own.logId : beginLog(ctx, sent, build, (newest?.attempt ?? 0) + 1)
  const fresh = isSame ? body.subarray(known.length) : body
  let at = isSame ? own.bytes : 0
  for (let from = 0; from < fresh.length || from === 0; from += WRITE_BYTES) {
    const chunk = fresh.subarray(from, from + WRITE_BYTES)
    append(ctx, logId, at, chunk, sent.isLast === 'true' && from + WRITE_BYTES >= fresh.length)
    at += chunk.length
    await setImmediate()
  }
  const { attempt, bytes, lines, isCut } = logById(ctx, logId)
  return { attempt, bytes, lines, notes: isCut ? [`Beyond ${LOG_BYTES_MAX >> 20} MB it is not kept.`] : [] }
}

function beginLog(ctx: ServiceContext, { repository, step, run }: SentLog, build: number, attempt: number): number {
  return Number(sql(ctx.db, INSERT_LOG).run({ repository, build, step, attempt, run, atMs: ctx.nowMs() }).lastInsertRowid)
}

function logById(ctx: ServiceContext, logId: number): LogRow {
  const log = sql(ctx.db, GET_LOG_BY_ID).get<LogRow>({ logId })
  if (!log) throw new Problem('conflict', { detail: 'The log was removed meanwhile; send it again from its beginning.' })
  return log
}

function tooFar(bytes: number): Problem {
  return new Problem('conflict', { detail: `${bytes} bytes of this log are here; go on with from=${bytes}.`, facts: { bytes } })
}

/** Whether a log reads so from a byte on, as far as it is kept. O(bytes of the log). */
async function begins(ctx: ServiceContext, log: LogRow, from: number, bytes: Buffer): Promise<boolean> {
  if (bytes.length === 0) return true
  const differs = (start: number, content: Buffer) => {
    const [low, high] = [Math.max(start, from), Math.min(start + content.length, from + bytes.length)]
    return low < high && !content.subarray(low - start, high - start).equals(bytes.subarray(low - from, high - from))
  }
  for await (const piece of piecesOf(ctx.db, log.logId)) {
    if (piece.fromByte >= from + bytes.length) break
    if (piece.fromByte + piece.byteCount > from && differs(piece.fromByte, contentOf(piece))) return false
  }
  return !differs(log.keptBytes - log.rest.length, log.rest)
}

/** Adds bytes at the end of a log; its whole lines are kept and looked through. */
function append(ctx: ServiceContext, logId: number, at: number, bytes: Buffer, isLast: boolean): void {
  ctx.db
    .transaction(() => {
      const log = logById(ctx, logId)
      if (log.bytes !== at) throw tooFar(log.bytes)
      const kept = bytes.subarray(0, Math.max(0, LOG_BYTES_MAX - log.keptBytes))
      const content = Buffer.concat([log.rest, kept])
      const isWhole = isLast || content.length - (content.lastIndexOf('\n') + 1) > REST_BYTES_MAX
      const { lines, rest } = cutLines(content, { isWhole })
      const counts = { errors: log.errors, warnings: log.warnings }
      if (lines.length > 0) {
        const whole = content.subarray(0, content.length - rest.length)
        addPiece(ctx.db, logId, {
          firstLine: log.lines + 1,
          lineCount: lines.length,
          fromByte: log.keptBytes - log.rest.length,
          content: whole,
        })
        lines.forEach((text, index) => {
          mark(ctx, logId, log.lines + 1 + index, text, counts)
        })
      }
      sql(ctx.db, UPDATE_LOG).run({
        logId,
        ...counts,
        bytes: log.bytes + bytes.length,
        keptBytes: log.keptBytes + kept.length,
        lines: log.lines + lines.length,
        rest: lines.length > 0 ? rest : content,
        isCut: Number(log.isCut === 1 || kept.length < bytes.length),
        atMs: ctx.nowMs(),
      })
    })
    .immediate()
}

/** Counts a line that tells of an error or a warning, once however often it stands there, and keeps it while there is room. */
function mark(ctx: ServiceContext, logId: number, line: number, text: string, counts: { errors: number; warnings: number }): void {
  const notable = readNotableLine(text)
  if (!notable || sql(ctx.db, HAS_MARK).get({ logId, text: notable.text })) return
  const known = counts.errors + counts.warnings
  if (notable.kind === 'error') counts.errors++
  else counts.warnings++
  if (known >= MARKS_MAX) return
  const { kind, place } = notable
  sql(ctx.db, INSERT_MARK).run({ logId, line, kind, text: notable.text, path: place?.path ?? null, pathLine: place?.line ?? null })
}

/** Removes logs that nothing was added to for as long as occurrences are kept, 50 at a time. */
export async function removeOldLogs(ctx: ServiceContext): Promise<void> {
  const beforeMs = ctx.nowMs() - ctx.config.keepDays * DAY_MS
  for (let logs = oldLogs(ctx, beforeMs); logs.length > 0; logs = oldLogs(ctx, beforeMs)) {
    for (const log of logs)
      ctx.db.transaction(() => {
        for (const statement of [DELETE_PIECES, DELETE_MARKS, DELETE_LOG]) sql(ctx.db, statement).run(log)
      })()
    await setImmediate()
  }
}
const DAY_MS = 86_400_000

function oldLogs(ctx: ServiceContext, beforeMs: number): { logId: number }[] {
  return sql(ctx.db, LIST_OLD_LOGS).all<{ logId: number }>({ beforeMs })
}
