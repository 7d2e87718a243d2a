import type { View } from '@dystracer/core/looking/wire'
import { filterWords } from '@dystracer/core/filter/filter-words'
import { COLUMNS_DEFAULT, parseLook, printLook, type ItemColumn, type Layout, type Look } from '@dystracer/core/looking/look'
import type { ItemSort } from '@dystracer/core/looking/orders'
import { useMemo } from 'react'
import { useViewsQuery } from './looking.api'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'

/** A way of looking as a pane shows it: what its address says, and for the rest what the saved view with this filter keeps. */
export interface OpenLook extends Look {
  layout: Layout
  sort: ItemSort
  columns: readonly ItemColumn[]
  view: View | undefined
  /** Whether words are looked for, so that there is a best match. */
  hasWords: boolean
  set: (change: Partial<Look>) => void
  to: (layout: Layout) => void
}

export function useLook(id: string, layout: Layout): OpenLook {
  const trail = usePaneTrail()
  const project = usePeople().me?.project.prefix ?? ''
  const { data: views } = useViewsQuery(project, { skip: project === '' })
  const look = useMemo(() => parseLook(id), [id])
  const fitting = views?.rows.filter((known) => known.filter === look.filter) ?? []
  const view = fitting.find((known) => known.look.layout === layout) ?? fitting[0]
  const hasWords = filterWords(look.filter).length > 0
  return {
    ...view?.look,
    ...look,
    layout,
    sort: look.sort ?? view?.sort ?? (hasWords ? 'best' : 'worst'),
    columns: look.columns ?? view?.columns ?? COLUMNS_DEFAULT,
    view,
    hasWords,
    set: (change) => trail.rename((now) => printLook({ ...parseLook(now), ...change })),
    to: (next) => trail.become({ kind: next, id: printLook(look) }),
  } as OpenLook
}
