import type { BoardMove } from '@dystracer/core/board/board'
import type { ItemSummary } from '@dystracer/core/records/wire'

/** Why a card cannot go there, with the way to make it possible. */
export function refusalText(item: ItemSummary, move: Extract<BoardMove, { kind: 'refused' }>): string {
  if (move.code === 'needs')
    return `${item.key} needs ${move.missing.map((field) => (/^[aeiou]/.test(field) ? `an ${field}` : `a ${field}`)).join(' and ')} first`
  return item.disposition === null
    ? `${item.key} has come further by evidence: no hand takes that back`
    : `${item.key} is rejected: open it again first`
}

/** What a move did, in words; `place` is what the column is called. */
export function moveText(item: ItemSummary, place: string, move: BoardMove): string {
  switch (move.kind) {
    case 'accept':
      return `${item.key} is accepted`
    case 'verify':
      return `${item.key} is verified`
    case 'claim':
      return `${item.key}: ${move.stage} is claimed, until evidence shows it`
    default:
      return `${item.key} stands under “${place}” now`
  }
}
