import { DndContext, DragOverlay, type DragEndEvent, type DragOverEvent } from '@dnd-kit/core'
import { BOARD_FIELDS, boardCells, boardMove, boardValue, boardValues, type BoardField, type BoardMove } from '@dystracer/core/board/board'
import type { ItemSummary } from '@dystracer/core/records/wire'
import { useMemo, useState } from 'react'
import { useBoardItemsQuery } from '#features/looking/looking.api'
import { useSetupQuery } from '#features/setup/setup.api'
import { useDragSensors } from '#shared/lib/use-drag-sensors'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { groupName, LookFrame, useChosen, useLook } from '#features/looking/index'
import { Choose } from '#shared/ui/fields'
import { Pending, Quiet } from '#shared/ui/parts'
import { BoardColumn } from './BoardColumn'
import { useBoardMoves } from './use-board-moves'
import { CardFace } from './Card'
import { refusalText } from './move-text'

const CARDS_MAX = 2000
const FIELD_CHOICES = BOARD_FIELDS.map((value) => ({ value, label: value }))

/**
 * The items of a filter as cards in columns, a column for each value of a field; dragged by mouse or touch, moved with Alt and the arrows
 * by keyboard. A step that cannot be taken says why while the card is over it.
 */
export function BoardPane({ id }: { id: string }) {
  const trail = usePaneTrail()
  const people = usePeople()
  const look = useLook(id, 'board')
  const { filter, sort, cards: columns = 'stage', lanes = '' } = look
  const chosen = useChosen()
  const { data, error, isLoading } = useBoardItemsQuery({ filter, sort, limit: CARDS_MAX })
  const { data: setup } = useSetupQuery(people.me?.project.prefix ?? '', { skip: !people.me })
  const [dragged, setDragged] = useState<ItemSummary | null>(null)
  const [over, setOver] = useState<{ lane: string; value: string; move: BoardMove } | null>(null)
  const rules = setup?.stageRules ?? []
  const { items, moveTo, drop } = useBoardMoves(data?.rows, { columns, lanes, rules })
  const known = useKnownValues(columns)
  const knownLanes = useKnownValues(lanes || 'stage')
  const values = boardValues(items, columns, known)
  const laneValues =
    lanes === '' ? [''] : boardValues(items, lanes, knownLanes).filter((lane) => items.some((item) => boardValue(item, lanes) === lane))
  const cells = useMemo(() => boardCells(items, columns, lanes || null), [items, columns, lanes])
  const sensors = useDragSensors()
  const canMove = people.may('items.change')

  const itemOf = (key: unknown) => items.find((item) => item.key === key)
  const placeOf = (id: unknown) => (typeof id === 'string' ? (JSON.parse(id) as { lane: string; value: string }) : null)
  const onDragOver = (event: DragOverEvent) => {
    const place = placeOf(event.over?.id)
    setOver(place === null || !dragged ? null : { ...place, move: boardMove(dragged, columns, place.value, rules) })
  }
  const onDragEnd = (event: DragEndEvent) => {
    const item = itemOf(event.active.id)
    const place = placeOf(event.over?.id)
    setDragged(null)
    setOver(null)
    if (!item || place === null) return
    void drop(item, place)
  }
  return (
    <LookFrame
      look={look}
      count={data?.total !== undefined ? `${data.total} cards` : ''}
      aside={<BoardAxes columns={columns} lanes={lanes} onChange={look.set} />}
    >
      <Pending error={error} isLoading={isLoading} />
      {data && items.length === 0 && <Quiet>No item fits this filter. Take a word away, or log an item with “n” in Items.</Quiet>}
      {data && data.total !== undefined && data.total > CARDS_MAX && (
        <p role="status" className="border-b border-edge bg-ochre-soft px-3 py-1 text-[12px]">
          The first {CARDS_MAX} of {data.total}; make the filter narrower to see the others.
        </p>
      )}
      {items.length > 0 && (
        <DndContext
          sensors={sensors}
          onDragStart={(event) => setDragged(itemOf(event.active.id) ?? null)}
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
                aria-label={lanes === '' ? 'Cards' : groupName(lanes, lane, people.nameOf)}
                className={lanes === '' ? 'flex h-full w-max min-w-full' : 'flex w-max min-w-full flex-col border-b border-edge'}
              >
                {lanes !== '' && (
                  <h3 className="sticky left-0 self-start px-3 pt-2 font-bold first-letter:uppercase">
                    {groupName(lanes, lane, people.nameOf)}
                  </h3>
                )}
                <div className={lanes === '' ? 'flex h-full min-w-full' : 'flex h-[260px] min-w-full'}>
                  {values.map((value) => (
                    <BoardColumn
                      key={value}
                      place={JSON.stringify({ lane, value })}
                      field={columns}
                      value={value}
                      label={groupName(columns, value, people.nameOf)}
                      cards={cells.get(lane)?.get(value) ?? []}
                      most={setup?.limits.find((limit) => limit.field === columns && limit.value === value)?.most ?? null}
                      refusal={
                        over?.value === value && over.lane === lane && over.move.kind === 'refused' && dragged
                          ? refusalText(dragged, over.move)
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
                        if (next !== undefined) void moveTo(item, columns, next)
                      }}
                    />
                  ))}
                </div>
              </section>
            ))}
          </div>
          <DragOverlay dropAnimation={null}>{dragged && <CardFace item={dragged} isLifted hasStair={columns !== 'stage'} />}</DragOverlay>
        </DndContext>
      )}
    </LookFrame>
  )
}

/** Which fields the columns and lanes of the board are. */
function BoardAxes({
  columns,
  lanes,
  onChange,
}: {
  columns: BoardField
  lanes: BoardField | ''
  onChange: (axes: { cards?: BoardField; lanes?: BoardField | undefined }) => void
}) {
  return (
    <>
      <span className="flex items-center gap-1 text-[12px]">
        columns
        <Choose
          aria-label="Columns are"
          className="w-auto! border-0! py-0.5!"
          value={columns}
          choices={FIELD_CHOICES}
          onChange={(event) => onChange({ cards: event.target.value as BoardField })}
        />
      </span>
      <span className="flex items-center gap-1 text-[12px]">
        lanes
        <Choose
          aria-label="Lanes are"
          className="w-auto! border-0! py-0.5!"
          none="none"
          value={lanes}
          choices={FIELD_CHOICES.filter((choice) => choice.value !== columns)}
          onChange={(event) => onChange({ lanes: (event.target.value || undefined) as BoardField | undefined })}
        />
      </span>
    </>
  )
}

/** All values that a field has in the project, also those that no card bears. */
function useKnownValues(field: BoardField): string[] {
  const { me } = usePeople()
  if (!me) return []
  switch (field) {
    case 'owner':
      return me.people.filter((person) => person.role !== null && person.role !== 'reader').map((person) => person.personId)
    case 'component':
      return me.components
    case 'milestone':
      return me.milestones
    case 'type':
      return me.setup.types.map((type) => type.type)
    default:
      return []
  }
}
