import { setImmediate } from 'node:timers/promises'

/** So many entries of a report are written at once: a larger one is written in pieces, between which others are answered. */
const PIECE = 5000

/** Calls with one piece after the other, and lets others be answered in between; with nothing at all once. */
export async function inPieces<Entry>(entries: readonly Entry[], write: (piece: Entry[], isLast: boolean) => void): Promise<void> {
  for (let from = 0; from === 0 || from < entries.length; from += PIECE) {
    if (from > 0) await setImmediate()
    write(entries.slice(from, from + PIECE), from + PIECE >= entries.length)
  }
}
