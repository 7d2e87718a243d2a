import { actionOf } from '#shared/lib/keys'
import { DndContext, DragOverlay, useDraggable, useDroppable, type DragEndEvent } from '@dnd-kit/core'
import type { ItemSummary } from '@dystracer/core/records/wire'
import type { OutlineEntry } from '@dystracer/core/looking/wire'
import { outlineRows, type OutlineRow } from '@dystracer/core/looking/outline'
import { useMemo, useState, type CSSProperties, type KeyboardEvent } from 'react'
import { toast } from 'sonner'
import { useOutlineQuery } from '#features/looking/looking.api'
import { useSetParentMutation } from '#features/items/items.api'
import { problemText } from '#shared/lib/problem-text'
import { useDragSensors } from '#shared/lib/use-drag-sensors'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pending, Quiet } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { ItemRow, useLacks, widthVariables } from '#features/items/index'
import { LookFrame, useBulkChange, useChosen, useLook, type OpenLook } from '#features/looking/index'

type Thing = OutlineEntry & { key: string }
type Row = OutlineRow<Thing>
const INDENT_PX = 16
/** Where a row is dropped to be a part of nothing. */
const TOP = 'top of the outline'

/**
 * The items of a filter below what they are parts of. Parts fold away; a row dragged on another one becomes a part of it, as does one moved
 * with Alt and the arrows.
 */
export function OutlinePane({ id }: { id: string }) {
  const trail = usePaneTrail()
  const people = usePeople()
  const look = useLook(id, 'outline')
  const { data, error, isLoading } = useOutlineQuery({ filter: look.filter, sort: look.sort })
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set())
  const [dragged, setDragged] = useState<Thing | null>(null)
  const chosen = useChosen()
  const bulk = useBulkChange()
  const [setParent] = useSetParentMutation()
  const sensors = useDragSensors()
  const canMove = people.may('items.change')
  const things = useMemo(() => (data?.rows ?? []).map((entry): Thing => ({ ...entry, key: entry.item.key })), [data])
  const rows = useMemo(() => outlineRows(things, folded), [things, folded])
  const fold = (key: string, isFolded: boolean) => {
    const next = new Set(folded)
    if (isFolded) next.add(key)
    else next.delete(key)
    setFolded(next)
  }
  const move = async (thing: Thing, parent: string | null, isUndo = false): Promise<void> => {
    if (parent === thing.key || parent === thing.parentKey) return
    const before = thing.parentKey
    const result = await setParent({ key: thing.key, parent })
    if (result.error) return void toast.error(problemText(result.error))
    if (parent !== null) fold(parent, false)
    toast.success(parent === null ? `${thing.key} is a part of nothing now` : `${thing.key} is a part of ${parent} now`, {
      // One message for a row of moves; that of an undo is its own, since the one that was clicked is on its way out.
      ...(!isUndo && { id: 'outline', action: { label: 'Undo', onClick: () => void move({ ...thing, parentKey: parent }, before, true) } }),
    })
  }
  const onKey = (event: KeyboardEvent, row: Row | undefined, step: (to: Row) => void) => {
    if (!row) return false
    const isRight = event.key === 'ArrowRight'
    switch (actionOf('outline', event)) {
      case 'partOf': {
        if (!canMove) return false
        const above = rows.slice(0, rows.indexOf(row)).findLast((other) => other.depth <= row.depth)
        if (above && above.depth === row.depth) void move(row.thing, above.thing.key)
        return true
      }
      case 'partLess':
        if (!canMove || row.thing.parentKey === null) return false
        void move(row.thing, things.find((thing) => thing.key === row.thing.parentKey)?.parentKey ?? null)
        return true
      case 'fold': {
        if (row.partCount > 0 && row.isFolded === isRight) {
          fold(row.thing.key, !isRight)
          return true
        }
        if (isRight || row.depth === 0) return false
        const above = rows.find((other) => other.thing.key === row.thing.parentKey)
        if (above) step(above)
        return true
      }
      case 'choose':
        chosen.toggle(row.thing.key)
        return true
      case 'undo':
        void bulk.takeBack()
        return true
      default:
        return false
    }
  }
  const onDragEnd = (event: DragEndEvent) => {
    setDragged(null)
    const thing = things.find((known) => known.key === event.active.id)
    if (thing && event.over) void move(thing, event.over.id === TOP ? null : String(event.over.id))
  }
  const matching = things.filter((thing) => !thing.isContext).length
  return (
    <LookFrame look={look} count={data ? `${data.total} found` : ''}>
      <Pending error={error} isLoading={isLoading} />
      {data && data.total > matching && (
        <p role="status" className="border-b border-edge bg-ochre-soft px-3 py-1 text-[12px]">
          The first {matching} of {data.total}; make the filter narrower to see the others.
        </p>
      )}
      {data && rows.length === 0 && <Quiet>No item fits this filter. Take a word away, or log an item with “n” in Items.</Quiet>}
      {rows.length > 0 && (
        <DndContext
          sensors={sensors}
          onDragStart={(event) => setDragged(things.find((thing) => thing.key === event.active.id) ?? null)}
          onDragEnd={onDragEnd}
          onDragCancel={() => setDragged(null)}
        >
          {dragged && dragged.parentKey !== null && <TopTarget />}
          <div className="min-h-0 flex-1" style={widthVariables(look.widths) as CSSProperties}>
            <RowList
              label="Outline"
              rows={rows}
              idOf={(row) => row.thing.key}
              selectedId={trail.next?.kind === 'item' ? trail.next.id : null}
              onKey={onKey}
              onShow={(row, isStep) => trail.open({ kind: 'item', id: row.thing.key }, { isStep })}
              renderRow={(row) => (
                <OutlineLine
                  row={row}
                  look={look}
                  canMove={canMove}
                  isChosen={chosen.keys.has(row.thing.key)}
                  onFold={(isFolded) => fold(row.thing.key, isFolded)}
                />
              )}
            />
          </div>
          <DragOverlay dropAnimation={null}>
            {dragged && (
              <span className="block w-[300px] truncate rounded-[3px] border border-edge bg-sheet px-2 py-1 shadow-2xl">
                <span className="font-mono text-[12px] text-ink-2">{dragged.key}</span> {dragged.item.title}
              </span>
            )}
          </DragOverlay>
        </DndContext>
      )}
    </LookFrame>
  )
}

function TopTarget() {
  const { setNodeRef, isOver } = useDroppable({ id: TOP })
  return (
    <p ref={setNodeRef} className={`border-b border-edge px-3 py-1.5 text-[12px] ${isOver ? 'bg-proof-soft' : 'bg-paper text-ink-2'}`}>
      Drop here to make it a part of nothing
    </p>
  )
}

function OutlineLine({
  row,
  look,
  canMove,
  isChosen,
  onFold,
}: {
  row: Row
  look: OpenLook
  canMove: boolean
  isChosen: boolean
  onFold: (isFolded: boolean) => void
}) {
  const lacksOf = useLacks()
  const people = usePeople()
  const { key, item, isContext } = row.thing
  const { setNodeRef: setDragRef, listeners, isDragging } = useDraggable({ id: key, disabled: !canMove })
  const { setNodeRef: setDropRef, isOver } = useDroppable({ id: key })
  return (
    <div
      ref={(element) => {
        setDragRef(element)
        setDropRef(element)
      }}
      {...listeners}
      className={`-mx-3 flex min-w-0 flex-1 touch-manipulation self-stretch px-3
        ${isDragging ? 'opacity-40' : ''} ${isOver && !isDragging ? 'bg-proof-soft' : ''}`}
    >
      <ItemRow
        item={item}
        columns={look.columns}
        lacks={lacksOf(item)}
        isMarked={isChosen}
        isPale={isContext}
        initials={people.initialsOf(item.ownerId)}
        ownerName={people.nameOf(item.ownerId)}
        before={<Fold row={row} item={item} onFold={onFold} />}
      />
    </div>
  )
}

/** How deep a row stands, and the mark that folds its parts away; by keyboard the arrows do so. */
function Fold({ row, item, onFold }: { row: Row; item: ItemSummary; onFold: (isFolded: boolean) => void }) {
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the list takes the keys
    // biome-ignore lint/a11y/noStaticElementInteractions: an option of a list cannot hold a button; the arrows fold
    <span
      data-fold={item.key}
      className="-mr-2 flex shrink-0 self-stretch text-ink-3"
      style={{ paddingLeft: row.depth * INDENT_PX }}
      onClick={(event) => {
        if (row.partCount === 0) return
        event.stopPropagation()
        onFold(!row.isFolded)
      }}
    >
      <span className="w-[34px] self-center text-[12px]">
        {row.partCount > 0 && (
          <>
            <span aria-hidden="true">{row.isFolded ? '+' : '−'}</span> {row.partCount}
            <span className="sr-only">{row.isFolded ? 'parts, folded away' : 'parts below'}</span>
          </>
        )}
      </span>
    </span>
  )
}
