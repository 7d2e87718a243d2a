/** Where a requirement stands: below which, and before which of those there; null for nothing, and for the end. */
export interface DocumentPlace {
  parent: string | null
  before: string | null
}
/** The ways in which a line of an outline moves: deeper, less deep, and among those beside it. */
export const DOCUMENT_MOVES = ['in', 'out', 'up', 'down'] as const
/** One of them. */
export type DocumentMove = (typeof DOCUMENT_MOVES)[number]

/**
 * Where a move puts a requirement, with all below it; null where there is nothing to move to. Rows come in document order, and those whose
 * parent is not among them stand on the first level. `in` puts it last below the one before it on its level; `out` right behind what it
 * stood below; `up` and `down` change places with a neighbour of its level. Linear.
 */
export function placeAfterMove(
  rows: readonly { key: string; parent: string | null }[],
  key: string,
  move: DocumentMove,
): DocumentPlace | null {
  const keys = new Set(rows.map((row) => row.key))
  const parentOf = new Map(rows.map((row) => [row.key, row.parent !== null && keys.has(row.parent) ? row.parent : null]))
  const parent = parentOf.get(key)
  if (parent === undefined) return null
  const beside = (of: string | null) => rows.filter((row) => parentOf.get(row.key) === of).map((row) => row.key)
  const level = beside(parent)
  const at = level.indexOf(key)
  const before = level[at - 1]
  const after = level[at + 1]
  switch (move) {
    case 'in':
      return before === undefined ? null : { parent: before, before: null }
    case 'up':
      return before === undefined ? null : { parent, before }
    case 'down':
      return after === undefined ? null : { parent, before: level[at + 2] ?? null }
    case 'out': {
      if (parent === null) return null
      const above = parentOf.get(parent) ?? null
      const outer = beside(above)
      return { parent: above, before: outer[outer.indexOf(parent) + 1] ?? null }
    }
  }
}

const TITLE_MAX = 70

/**
 * A title for a requirement that was written as a sentence alone: its first words, as far as they are short. Never empty for a text with
 * words.
 *
 * @example titleFrom('The door shall stay locked. It tells why.') // 'The door shall stay locked'
 */
export function titleFrom(text: string): string {
  const [line = ''] = text.trim().split('\n')
  const plain = line.replaceAll(/[*_`#>]+/g, '').trim()
  const sentence = /^.*?[.;](?=\s|$)/.exec(plain)?.[0].slice(0, -1) ?? plain
  if (sentence.length <= TITLE_MAX) return sentence || plain.slice(0, TITLE_MAX)
  const cut = sentence.slice(0, TITLE_MAX)
  return `${cut.slice(0, Math.max(cut.lastIndexOf(' '), TITLE_MAX / 2)).trimEnd()} …`
}
