import type { ChangeItem } from '@dystracer/core/items/wire'
import { LAYOUTS, type Layout } from '@dystracer/core/looking/look'
import type { ItemSort } from '@dystracer/core/looking/orders'
import type { ReactNode } from 'react'
import { Choose } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { BulkBar } from './BulkBar'
import { useChosen } from './chosen.slice'
import { FilterBar } from './FilterBar'
import { useBulkChange } from './use-bulk-change'
import type { OpenLook } from './use-look'
import { ViewMenu } from './ViewMenu'

const NAME: Record<Layout, string> = { items: 'list', board: 'board', calendar: 'calendar', outline: 'outline' }
const TITLE: Record<Layout, string> = { items: 'Items', board: 'Board', calendar: 'Calendar', outline: 'Outline' }
const SORTS: { value: ItemSort; label: string }[] = [
  { value: 'worst', label: 'worst first' },
  { value: 'newest', label: 'newest first' },
  { value: 'updated', label: 'last changed first' },
  { value: 'due', label: 'soonest due first' },
]
const BEST = { value: 'best', label: 'best match first' } as const

/**
 * The frame of every way of looking: how many there are, the view, the order, the other ways, the filter, and what can be done with the
 * chosen items.
 */
export function LookFrame({ look, count, aside, children }: { look: OpenLook; count: string; aside?: ReactNode; children: ReactNode }) {
  const chosen = useChosen()
  const bulk = useBulkChange()
  const change = async (what: ChangeItem, said: string) => {
    if (await bulk.run([...chosen.keys], what, said)) chosen.clear()
  }
  return (
    <Pane
      label={TITLE[look.layout]}
      title={TITLE[look.layout]}
      note={count}
      aside={
        <>
          {aside}
          <ViewMenu look={look} />
          {look.layout !== 'calendar' && (
            <Choose
              aria-label="Order"
              choices={look.hasWords ? [BEST, ...SORTS] : SORTS}
              value={look.sort}
              onChange={(event) => look.set({ sort: event.target.value as ItemSort })}
              className="w-auto! border-0! py-0.5!"
            />
          )}
        </>
      }
    >
      <div className="flex h-full flex-col">
        <div className="flex items-start border-b border-edge">
          <div className="min-w-0 flex-1">
            <FilterBar filter={look.filter} onFilter={(filter) => look.set({ filter })} />
          </div>
          <fieldset aria-label="Look as" className="m-0 flex shrink-0 gap-3 border-0 px-3 py-2 text-[12px]">
            {LAYOUTS.map((layout) => (
              <button
                key={layout}
                type="button"
                aria-pressed={layout === look.layout}
                onClick={() => look.to(layout)}
                className={layout === look.layout ? 'border-b-2 border-ink font-bold' : 'text-ink-2 hover:text-ink'}
              >
                {NAME[layout]}
              </button>
            ))}
          </fieldset>
        </div>
        {chosen.keys.size > 0 && (
          <BulkBar
            count={chosen.keys.size}
            isBusy={bulk.isLoading}
            onChange={(what, said) => void change(what, said)}
            onNone={chosen.clear}
          />
        )}
        {children}
      </div>
    </Pane>
  )
}
