import { Problem } from '@dystracer/core/basics/problem'
import type { BuildLog, LogMark } from '@dystracer/core/build-logs/wire'
import { withoutControls } from '@dystracer/core/text/decode-text'
import { TrackedFiles } from '@dystracer/core/traces/tracked-files'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { trackedFilesOf } from '#subjects/git/index'
import { linesOf, piecesOf } from './pieces.js'
import { GET_LOG, GET_SHA_OF_BUILD, LIST_LOGS, LIST_MARKS, LIST_PIECES, type LogRow, type PieceRow } from './build-logs.queries.js'

const FOUND_MAX = 1000

/** The log of one step of a build; its first attempt unless another is asked for. */
export interface WhichLog {
  repository: string
  build: number
  step: string
  attempt: number
}
interface MarkRow {
  line: number
  kind: LogMark['kind']
  text: string
  path: string | null
  pathLine: number | null
}

/** What the steps of a build printed, in the order in which they began; places that the repository does not know are left out. */
export async function listBuildLogs(ctx: ServiceContext, of: { repository: string; build: number }): Promise<BuildLog[]> {
  const logs = sql(ctx.db, LIST_LOGS).all<Omit<LogRow, 'rest' | 'keptBytes'>>(of)
  const marks = logs.map(({ logId }) => sql(ctx.db, LIST_MARKS).all<MarkRow>({ logId }))
  const find = marks.some((rows) => rows.some((row) => row.path !== null)) ? await finder(ctx, of) : () => null
  return logs.map(({ logId: _, isCut, ...log }, at) => ({
    ...log,
    isCut: isCut === 1,
    marks: (marks[at] ?? []).map(({ path, pathLine, ...row }) => {
      const tracked = path === null ? null : find(path)
      return { ...row, place: tracked !== null && pathLine !== null ? { path: tracked, line: pathLine } : null }
    }),
  }))
}

/** Finds the file of the repository that a printed path means. */
async function finder(ctx: ServiceContext, of: { repository: string; build: number }): Promise<(path: string) => string | null> {
  const { sha } = sql(ctx.db, GET_SHA_OF_BUILD).get<{ sha: string }>(of) ?? { sha: '' }
  const files = sha === '' ? null : await trackedFilesOf(ctx, of.repository, sha)
  if (files === null) return () => null
  const tracked = new TrackedFiles(files)
  return (path) => tracked.resolve(path)
}

/** So many lines of a log from one on, the first is 1. Throws `not-found`. */
export function readLogLines(ctx: ServiceContext, which: WhichLog, { from, count }: { from: number; count: number }) {
  const { logId, lines: total } = getLog(ctx, which)
  const pieces = sql(ctx.db, LIST_PIECES).all<PieceRow>({ logId, fromLine: from, toLine: from + count })
  const lines = pieces.flatMap((piece) =>
    linesOf(piece).slice(Math.max(0, from - piece.firstLine), Math.max(0, from + count - piece.firstLine)),
  )
  return { from, lines, total }
}

/** Where a text stands in a log, in whatever case and without its colours. O(bytes of the log). Throws `not-found`. */
export async function findInLog(ctx: ServiceContext, which: WhichLog, text: string): Promise<{ lines: number[]; isMore: boolean }> {
  const { logId } = getLog(ctx, which)
  const sought = text.toLowerCase()
  const found: number[] = []
  for await (const piece of piecesOf(ctx.db, logId)) {
    linesOf(piece).forEach((line, at) => {
      if (withoutControls(line).text.toLowerCase().includes(sought)) found.push(piece.firstLine + at)
    })
    if (found.length > FOUND_MAX) break
  }
  return { lines: found.slice(0, FOUND_MAX), isMore: found.length > FOUND_MAX }
}

/** A log as plain text, piece by piece. Throws `not-found`. */
export function logText(ctx: ServiceContext, which: WhichLog): AsyncGenerator<string> {
  const { logId } = getLog(ctx, which)
  return (async function* () {
    for await (const piece of piecesOf(ctx.db, logId)) yield `${withoutControls(linesOf(piece).join('\n')).text}\n`
  })()
}

function getLog(ctx: ServiceContext, which: WhichLog): { logId: number; lines: number } {
  const log = sql(ctx.db, GET_LOG).get<{ logId: number; lines: number }>({ ...which })
  if (!log) throw new Problem('not-found', { detail: `No log of the step “${which.step}” is here.` })
  return log
}
