import { Problem } from '@dystracer/core/basics/problem'

/** A page's place as opaque text. */
export function encodeCursor(values: readonly (string | number)[]): string {
  return Buffer.from(JSON.stringify(values)).toString('base64url')
}

type CursorValue = string | number
type Values<Length extends number> = number extends Length
  ? CursorValue[]
  : Length extends 1
    ? [CursorValue]
    : Length extends 2
      ? [CursorValue, CursorValue]
      : [CursorValue, CursorValue, CursorValue]

/** The values of a cursor, or null for none. Throws `invalid-input` for a text that no page gave. */
export function decodeCursor<Length extends number>(cursor: string | undefined, length: Length): Values<Length> | null {
  if (cursor === undefined) return null
  try {
    const values: unknown = JSON.parse(Buffer.from(cursor, 'base64url').toString('utf8'))
    if (
      Array.isArray(values) &&
      values.length === length &&
      values.every((value) => typeof value === 'string' || typeof value === 'number')
    )
      return values as Values<Length>
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error
  }
  throw new Problem('invalid-input', { fields: { cursor: 'Not a cursor of this list' } })
}

/** Cuts the extra row off a page and makes the cursor to the next. */
export function pageOf<Row, Out>(
  rows: Row[],
  limit: number,
  toOut: (row: Row) => Out,
  cursorOf: (row: Row) => (string | number)[],
): { rows: Out[]; nextCursor: string | null } {
  const shown = rows.slice(0, limit)
  const last = shown.at(-1)
  return { rows: shown.map(toOut), nextCursor: rows.length > limit && last ? encodeCursor(cursorOf(last)) : null }
}
