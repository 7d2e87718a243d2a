import { statfsSync } from 'node:fs'
import { Problem } from '@dystracer/core/basics/problem'
import type { Config } from '#platform/config/config'

/** Where the data lies, and how much is kept free there. */
export type Place = Pick<Config, 'dataDir' | 'minFreeBytes'>

/** How much the disk of the data folder takes yet, and whether that is so little that big things are refused. */
export function roomLeft({ dataDir, minFreeBytes }: Place): { freeBytes: number; isLow: boolean } {
  const { bavail, bsize } = statfsSync(dataDir)
  const freeBytes = bavail * bsize
  return { freeBytes, isLow: freeBytes < minFreeBytes }
}

/**
 * Throws `disk-full` for what could fill the disk, while there is still room for what people write by hand: their words come last. Asked
 * before a body is read.
 */
export function requireRoom(place: Place): void {
  const { freeBytes, isLow } = roomLeft(place)
  if (isLow) throw noRoom(`The disk of the server has only ${Math.floor(freeBytes / 2 ** 20)} MiB left, which are kept for people's work.`)
}

/** Whether an error says that there was no room: of SQLite, of the file system, or of a thread that passed it on as words. */
export function isNoRoom(error: unknown): boolean {
  if (!(error instanceof Error)) return false
  const code = 'code' in error ? String(error.code) : ''
  return code === 'SQLITE_FULL' || code === 'ENOSPC' || /database or disk is full|ENOSPC|No space left on device/.test(error.message)
}

/** The refusal of what the disk does not take. */
export function noRoom(why = 'The disk of the server is full.', cause?: unknown): Problem {
  return new Problem('disk-full', {
    detail: `${why} Nothing was stored and nothing was lost; send it again once its operator has made room.`,
    headers: { 'retry-after': '60' },
    cause,
  })
}

/** With less than this nothing can be written any more. */
const NOTHING_LEFT_BYTES = 2 ** 20

/**
 * On a disk that is full, what fails unexpectedly fails for want of room, whatever it is called: SQLite and the file system have many
 * words for it. The problem as it is where there is room.
 */
export function forWantOfRoom(problem: Problem, place: Place): Problem {
  return problem.code === 'internal' && roomLeft(place).freeBytes < NOTHING_LEFT_BYTES ? noRoom(undefined, problem.cause) : problem
}
