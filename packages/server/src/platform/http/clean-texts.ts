import { Problem } from '@dystracer/core/basics/problem'
import { withoutControls } from '@dystracer/core/text/decode-text'

/** No request nests deeper than a few levels; one that does is an attack on whoever walks it. */
const DEPTH_MAX = 64

/** A text without control characters (but tabs and line breaks) and without halves of characters: the database gives it back as it is. */
export function cleanText(text: string): string {
  return withoutControls(text).text.toWellFormed()
}

/** What is called so is a secret: it is taken as it is, and what it holds is nobody's business. */
const SECRET = /password|secret|^(?:code|current|next)$/i

/**
 * A JSON value whose texts hold no control characters but tabs and line breaks: no screen shows them, exports in XML may not hold them, and
 * some turn a terminal's lines around. Nor do they hold halves of characters, which come out of the database as others than went in. This
 * is the one place where texts of people enter. Linear. Throws `malformed-body` for what nests without end.
 */
export function cleanTexts(value: unknown, { holdsSecrets = false } = {}, depth = 0): unknown {
  if (typeof value === 'string') return cleanText(value)
  if (value === null || typeof value !== 'object') return value
  if (depth > DEPTH_MAX) throw new Problem('malformed-body', { detail: `The body nests deeper than ${DEPTH_MAX} levels.` })
  if (Array.isArray(value)) return value.map((inner) => cleanTexts(inner, { holdsSecrets }, depth + 1))
  return Object.fromEntries(
    Object.entries(value).map(([name, inner]) => {
      const isTakenAsIs = holdsSecrets && typeof inner === 'string' && SECRET.test(name)
      return [name, isTakenAsIs ? inner : cleanTexts(inner, { holdsSecrets }, depth + 1)]
    }),
  )
}
