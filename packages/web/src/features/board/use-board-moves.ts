import { boardMove, bothChanges, withChange, type BoardField } from '@dystracer/core/board/board'
import type { ItemSummary } from '@dystracer/core/records/wire'
import { acceptedAsItStands } from '@dystracer/core/triage/decision'
import { useMemo, useState } from 'react'
import { toast } from 'sonner'
import { useActMutation, useChangeItemMutation } from '#features/items/items.api'
import { usePlaces } from '#features/looking/index'
import { problemText } from '#shared/lib/problem-text'
import { moveText, refusalText } from './move-text'

/** A cell of a board: the values of its lane and of its column. */
export interface Cell {
  lane: string
  value: string
}

/**
 * The cards of a board where they stand, and their moves: by one field, or by column and lane at once. What was moved stands in its new
 * place until the server has answered.
 */
export function useBoardMoves(
  rows: readonly ItemSummary[] | undefined,
  { columns, lanes, rules }: { columns: BoardField; lanes: BoardField | ''; rules: Parameters<typeof boardMove>[3] },
) {
  const { ownFields, nameOfValue } = usePlaces()
  const [act] = useActMutation()
  const [change] = useChangeItemMutation()
  const [moved, setMoved] = useState<Record<string, ItemSummary>>({})
  const items = useMemo(() => (rows ?? []).map((item) => moved[item.key] ?? item), [rows, moved])
  const moveTo = async (item: ItemSummary, field: BoardField, value: string, from?: string) => {
    const move = boardMove(item, field, value, rules, { from, ownFields })
    if (move.kind === 'none') return
    if (move.kind === 'refused') return void toast.error(refusalText(item, move))
    if (move.kind === 'change') setMoved((now) => ({ ...now, [item.key]: withChange(item, move.change) }))
    const result =
      move.kind === 'change'
        ? await change({ key: item.key, change: move.change })
        : move.kind === 'claim'
          ? await act({ key: item.key, act: 'claims', body: { stage: move.stage, words: 'Moved on the board' } })
          : move.kind === 'accept'
            ? await act({
                key: item.key,
                act: 'accept',
                body: acceptedAsItStands(item),
              })
            : await act({ key: item.key, act: 'verify', body: { words: '' } })
    setMoved(({ [item.key]: _settled, ...rest }) => rest)
    if (result.error) toast.error(problemText(result.error))
    else toast.success(moveText(item, nameOfValue(field, value), move))
  }
  /** A drop on another lane and column at once is one change where both are fields; a step of the ladder comes before the field. */
  const drop = async (item: ItemSummary, from: Cell, place: Cell) => {
    const across = boardMove(item, columns, place.value, rules, { from: from.value, ownFields })
    const along = lanes === '' ? ({ kind: 'none' } as const) : boardMove(item, lanes, place.lane, rules, { from: from.lane, ownFields })
    if (lanes === '' || along.kind === 'none') return moveTo(item, columns, place.value, from.value)
    if (across.kind === 'none') return moveTo(item, lanes, place.lane, from.lane)
    if (across.kind === 'change' && along.kind === 'change') {
      const both = bothChanges(across.change, along.change)
      setMoved((now) => ({ ...now, [item.key]: withChange(item, both) }))
      const result = await change({ key: item.key, change: both })
      setMoved(({ [item.key]: _settled, ...rest }) => rest)
      if (result.error) toast.error(problemText(result.error))
      else toast.success(moveText(item, `${nameOfValue(columns, place.value)}, ${nameOfValue(lanes, place.lane)}`, across))
      return
    }
    await moveTo(item, columns, place.value, from.value)
    await moveTo(item, lanes, place.lane, from.lane)
  }
  return { items, moveTo, drop }
}
