import { deflateRawSync, inflateRawSync } from 'node:zlib'
import { setImmediate } from 'node:timers/promises'
import { cutLines } from '@dystracer/core/build-logs/log-lines'
import { sql } from '#platform/db/statements'
import type { Db } from '#platform/db/open'
import { GET_LAST_PIECE, GET_PIECE_FROM, PUT_PIECE, type PieceRow } from './build-logs.queries.js'

/** A piece that is smaller grows by what comes next: a log that comes line by line is no thousand pieces. */
const PIECE_BYTES_MIN = 64 * 1024

/** The bytes of a piece, as they came. */
export function contentOf(piece: PieceRow): Buffer {
  return inflateRawSync(piece.content, { maxOutputLength: piece.byteCount })
}

/** The lines of a piece, as a terminal shows them. */
export function linesOf(piece: PieceRow): string[] {
  return cutLines(contentOf(piece), { isWhole: true }).lines
}

/** Adds whole lines at the end of a log, to its last piece while that is small. To be called inside the write. */
export function addPiece(db: Db, logId: number, added: { firstLine: number; lineCount: number; fromByte: number; content: Buffer }): void {
  const last = sql(db, GET_LAST_PIECE).get<PieceRow>({ logId })
  const grows = last !== undefined && last.byteCount < PIECE_BYTES_MIN
  const content = grows ? Buffer.concat([contentOf(last), added.content]) : added.content
  sql(db, PUT_PIECE).run({
    logId,
    firstLine: grows ? last.firstLine : added.firstLine,
    lineCount: (grows ? last.lineCount : 0) + added.lineCount,
    fromByte: grows ? last.fromByte : added.fromByte,
    byteCount: content.length,
    content: deflateRawSync(content),
  })
}

/** Every piece of a log in order; others are answered between two. */
export async function* piecesOf(db: Db, logId: number): AsyncGenerator<PieceRow> {
  for (let fromLine = 1; ; ) {
    const piece = sql(db, GET_PIECE_FROM).get<PieceRow>({ logId, fromLine })
    if (!piece) return
    yield piece
    fromLine = piece.firstLine + piece.lineCount
    await setImmediate()
  }
}
