import { assertNever } from '#basics/assert-never'
import type { Comparison } from './filter.js'

/** Whether two words are the same in any case. */
export function same(a: string, b: string): boolean {
  return a.toLowerCase() === b.toLowerCase()
}

/** A comparison by the difference of both sides; values within `width` above count as the same one. */
export function stands(difference: number, comparison: Comparison, width = 1): boolean {
  const isSame = difference >= 0 && difference < width
  switch (comparison) {
    case '=':
      return isSame
    case '!=':
      return !isSame
    case '<':
      return difference < 0
    case '<=':
      return difference < 0 || isSame
    case '>':
      return difference >= width
    case '>=':
      return difference >= 0
    default:
      return assertNever(comparison)
  }
}

/**
 * Whether a text holds another in any case; a star in it stands for anything between. Linear: each piece is
 * sought once, from where the last ended.
 */
export function holds(text: string, wanted: string): boolean {
  const within = text.toLowerCase()
  if (!wanted.includes('*')) return within.includes(wanted.toLowerCase())
  let at = 0
  for (const piece of wanted.toLowerCase().split('*')) {
    const found = within.indexOf(piece, at)
    if (found < 0) return false
    at = found + piece.length
  }
  return true
}
