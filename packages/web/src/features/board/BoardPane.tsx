import { DndContext, DragOverlay, type DragEndEvent, type DragOverEvent } from '@dnd-kit/core'
import { boardCells, boardColumns, boardMove, boardPlaces, boardValues, type BoardMove } from '@dystracer/core/board/board'
import type { ItemSummary } from '@dystracer/core/records/wire'
import { useMemo, useState } from 'react'
import { useBoardItemsQuery } from '#features/looking/looking.api'
import { useSetupQuery } from '#features/setup/setup.api'
import { useDragSensors } from '#shared/lib/use-drag-sensors'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { LookFrame, useChosen, useLook, usePlaces } from '#features/looking/index'
import { plural } from '#shared/lib/format'
import { Pending, Quiet } from '#shared/ui/parts'
import { BoardAxes } from './BoardAxes'
import { BoardColumn } from './BoardColumn'
import { type Cell, useBoardMoves } from './use-board-moves'
import { CardFace } from './Card'
import { refusalText } from './move-text'

const CARDS_MAX = 2000

/**
 * The items of a filter as cards in columns, a column for each value of a field; dragged by mouse or touch, moved with Alt and the arrows
 * by keyboard. A step that cannot be taken says why while the card is over it.
 */
export function BoardPane({ id }: { id: string }) {
  const trail = usePaneTrail()
  const people = usePeople()
  const { ownFields, knownValues, nameOfValue } = usePlaces()
  const look = useLook(id, 'board')
  const { filter, sort, cards: columns = 'stage', lanes = '' } = look
  const chosen = useChosen()
  const { data, error, isLoading } = useBoardItemsQuery({ filter, sort, limit: CARDS_MAX })
  const { data: setup } = useSetupQuery(people.me?.project.prefix ?? '', { skip: !people.me })
  const [dragged, setDragged] = useState<{ item: ItemSummary; from: Cell } | null>(null)
  const [over, setOver] = useState<{ lane: string; value: string; move: BoardMove } | null>(null)
  const rules = setup?.stageRules ?? []
  const { items, moveTo, drop } = useBoardMoves(data?.rows, { columns, lanes, rules })
  const all = boardValues(items, columns, knownValues(columns))
  const { shown: values, hidden } = boardColumns(items, columns, { all, chosen: look.values })
  const laneValues =
    lanes === '' || items.length === 0
      ? ['']
      : boardValues(items, lanes, knownValues(lanes)).filter((lane) => items.some((item) => boardPlaces(item, lanes).includes(lane)))
  const cells = useMemo(() => boardCells(items, columns, lanes || null), [items, columns, lanes])
  const sensors = useDragSensors()
  const canMove = people.may('items.change')

  const placeOf = (id: unknown) => (typeof id === 'string' ? (JSON.parse(id) as Cell) : null)
  const cardOf = (id: unknown) => {
    const { key, ...from } = JSON.parse(String(id)) as Cell & { key: string }
    const item = items.find((known) => known.key === key)
    return item === undefined ? null : { item, from }
  }
  const onDragOver = (event: DragOverEvent) => {
    const place = placeOf(event.over?.id)
    setOver(
      place === null || !dragged
        ? null
        : { ...place, move: boardMove(dragged.item, columns, place.value, rules, { from: dragged.from.value, ownFields }) },
    )
  }
  const onDragEnd = (event: DragEndEvent) => {
    const card = cardOf(event.active.id)
    const place = placeOf(event.over?.id)
    setDragged(null)
    setOver(null)
    if (!card || place === null) return
    void drop(card.item, card.from, place)
  }
  return (
    <LookFrame
      look={look}
      count={data?.total !== undefined ? `${data.total} cards` : ''}
      aside={<BoardAxes columns={columns} lanes={lanes} all={all} values={values} onChange={look.set} />}
    >
      <Pending error={error} isLoading={isLoading} />
      {data && items.length === 0 && <Quiet>No item fits this filter. Take a word away, or log an item with “n” in Items.</Quiet>}
      {data && data.total !== undefined && data.total > CARDS_MAX && (
        <p role="status" className="border-b border-edge bg-ochre-soft px-3 py-1 text-[12px]">
          The first {CARDS_MAX} of {data.total}; make the filter narrower to see the others.
        </p>
      )}
      {hidden > 0 && (
        <p role="status" className="border-b border-edge bg-ochre-soft px-3 py-1 text-[12px]">
          {plural(hidden, 'card')} {hidden === 1 ? 'stands' : 'stand'} in columns that are not shown.
        </p>
      )}
      {data && (
        <DndContext
          sensors={sensors}
          onDragStart={(event) => setDragged(cardOf(event.active.id))}
          onDragOver={onDragOver}
          onDragEnd={onDragEnd}
          onDragCancel={() => {
            setDragged(null)
            setOver(null)
          }}
        >
          <div className="min-h-0 flex-1 overflow-auto">
            {laneValues.map((lane) => (
              <section
                key={lane}
                aria-label={lanes === '' ? 'Cards' : nameOfValue(lanes, lane)}
                className={lanes === '' ? 'flex h-full w-max min-w-full' : 'flex w-max min-w-full flex-col border-b border-edge'}
              >
                {lanes !== '' && (
                  <h3 className="sticky left-0 self-start px-3 pt-2 font-bold first-letter:uppercase">{nameOfValue(lanes, lane)}</h3>
                )}
                <div className={lanes === '' ? 'flex h-full min-w-full' : 'flex h-[260px] min-w-full'}>
                  {values.map((value) => (
                    <BoardColumn
                      key={value}
                      place={{ lane, value }}
                      field={columns}
                      label={nameOfValue(columns, value)}
                      cards={cells.get(lane)?.get(value) ?? []}
                      most={setup?.limits.find((limit) => limit.field === columns && limit.value === value)?.most ?? null}
                      refusal={
                        over?.value === value && over.lane === lane && over.move.kind === 'refused' && dragged
                          ? refusalText(dragged.item, over.move)
                          : null
                      }
                      isOver={over?.value === value && over.lane === lane && over.move.kind !== 'refused' && over.move.kind !== 'none'}
                      canMove={canMove}
                      chosenKeys={chosen.keys}
                      onChoose={chosen.toggle}
                      openKey={trail.next?.kind === 'item' ? trail.next.id : null}
                      onOpen={(key, isStep) => trail.open({ kind: 'item', id: key }, { isStep })}
                      onStep={(item, by) => {
                        const next = values[values.indexOf(value) + by]
                        if (next !== undefined) void moveTo(item, columns, next, value)
                      }}
                    />
                  ))}
                </div>
              </section>
            ))}
          </div>
          <DragOverlay dropAnimation={null}>
            {dragged && <CardFace item={dragged.item} isLifted hasStair={columns !== 'stage'} />}
          </DragOverlay>
        </DndContext>
      )}
    </LookFrame>
  )
}
