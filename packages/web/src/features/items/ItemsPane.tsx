import type { ListLine } from '@dystracer/core/looking/groups'
import type { CSSProperties } from 'react'
import { plural } from '#shared/lib/format'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Button, Pending, Quiet, Refusal } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { LookFrame, usePlaces } from '#features/looking/index'
import { ColumnHeads } from './ColumnHeads'
import { widthVariables } from './item-columns'
import { ItemRow } from './ItemRow'
import { RowEditor } from './RowEditor'
import { useLacks } from './use-lacks'
import { useItemList } from './use-item-list'

const NONE: readonly string[] = []

/** All items that the filter admits, as a list; the whole way of looking stands in the address. */
export function ItemsPane({ id }: { id: string }) {
  const trail = usePaneTrail()
  const list = useItemList(id)
  const { look, counts, error, isLoading, isFetching, lines, hidden, cameSinceRead, edited, editedRow, setEdited } = list
  const { edit, setFolded, fold } = list
  const { folded = NONE, columns, widths = {} } = look
  const groups = counts?.groups
  return (
    <LookFrame
      look={look}
      count={counts ? `${counts.total} found` : ''}
      aside={
        groups && groups.length > 0 ? (
          <Button look="line" onClick={() => setFolded(folded.length > 0 ? [] : groups.map((group) => group.value))}>
            {folded.length > 0 ? 'unfold all' : 'fold all'}
          </Button>
        ) : null
      }
    >
      <Refusal error={error} className="px-3" />
      {cameSinceRead !== 0 && (
        <p role="status" className="border-b border-edge bg-ochre-soft px-3 py-1 text-[12px]">
          Since this list was read, {plural(Math.abs(cameSinceRead), 'item')} {cameSinceRead > 0 ? 'came' : 'went'}.{' '}
          <Button look="line" disabled={isFetching} onClick={list.readAgain}>
            Read it again
          </Button>
        </p>
      )}
      {hidden && (
        <p role="status" className="border-b border-edge bg-ochre-soft px-3 py-1 text-[12px]">
          {hidden} is not in this list: the filter leaves it out.
        </p>
      )}
      <div data-columns className="flex min-h-0 flex-1 flex-col" style={widthVariables(widths) as CSSProperties}>
        <ColumnHeads
          columns={columns}
          widths={widths}
          onWidth={(column, px) => {
            const { [column]: _before, ...others } = widths
            look.set({ widths: px === undefined ? others : { ...others, [column]: px } })
          }}
        />
        <div className="min-h-0 flex-1">
          {isLoading ? (
            <Pending isLoading />
          ) : lines.length === 0 && !error ? (
            <Quiet>No item fits this filter. Take a word away, or log an item with “n”.</Quiet>
          ) : (
            <RowList
              label="Items"
              rows={lines}
              idOf={(line) => line.id}
              isHead={(line) => line.kind === 'group'}
              selectedId={trail.next?.kind === 'item' ? trail.next.id : null}
              onNearEnd={list.onNearEnd}
              onKey={list.onKey}
              onShow={(line, isStep) => {
                if (line.kind === 'item') trail.open({ kind: 'item', id: line.item.key }, { isStep })
                else if (!isStep) fold(line)
              }}
              onDoubleClick={(line, event) => {
                if (line.kind === 'item')
                  edit(
                    line.item,
                    (event.target instanceof Element && event.target.closest<HTMLElement>('[data-column]')?.dataset.column) || 'title',
                  )
              }}
              overlay={
                edited && editedRow
                  ? {
                      id: edited.key,
                      content: (
                        <RowEditor
                          key={edited.key}
                          item={editedRow}
                          columns={columns}
                          first={edited.first}
                          onChange={list.changeEdited}
                          onDone={() => {
                            setEdited(null)
                            document.querySelector<HTMLElement>('[role="listbox"][aria-label="Items"]')?.focus()
                          }}
                        />
                      ),
                    }
                  : null
              }
              renderRow={(line) => <Line line={line} list={list} />}
            />
          )}
        </div>
      </div>
    </LookFrame>
  )
}

/** A line of the list: the head of a group, or an item. */
function Line({ line, list }: { line: ListLine; list: ReturnType<typeof useItemList> }) {
  const people = usePeople()
  const { nameOfValue } = usePlaces()
  const lacksOf = useLacks()
  const { look, chosen, found } = list
  const { columns } = look
  return line.kind === 'group' ? (
    <GroupHead line={line} name={nameOfValue(list.groupedBy ?? 'stage', line.value)} />
  ) : (
    <ItemRow
      item={line.item}
      columns={columns}
      lacks={lacksOf(line.item)}
      isMarked={chosen.keys.has(line.item.key)}
      initials={people.initialsOf(line.item.ownerId)}
      ownerName={people.nameOf(line.item.ownerId)}
      found={found.get(line.item.key)}
    />
  )
}

/** A click or Enter folds the group and unfolds it; so do space and the arrows. */
function GroupHead({ line, name }: { line: ListLine & { kind: 'group' }; name: string }) {
  return (
    <span className="flex min-w-0 flex-1 gap-2 text-[12px]">
      <span aria-hidden="true" className="w-3 shrink-0 text-ink-3">
        {line.isFolded ? '+' : '−'}
      </span>
      <b className="truncate first-letter:uppercase">{name}</b>
      <span className="text-ink-3">
        {line.count === null ? '' : plural(line.count, 'item')}
        <span className="sr-only">{line.isFolded ? ', folded' : ''}</span>
      </span>
    </span>
  )
}
