import { LAYOUTS } from '@dystracer/core/looking/look'
import { NavLink } from 'react-router'
import { usePlacesQuery } from '#features/desk/desk.api'
import { useViewsQuery } from '#features/looking/looking.api'
import { dialogOpened, useAppDispatch } from '#shared/lib/store'
import { printTrail, segmentOfView, titleOf } from '#shared/lib/trail'
import { usePeople } from '#features/people/index'

const GROUPS = [
  { title: 'Now', places: ['desk', 'triage'] },
  { title: 'Work', places: ['items'] },
  { title: 'Evidence', places: ['faults', 'code', 'builds', 'tests', 'releases', 'incidents'] },
  { title: 'Why', places: ['requirements', 'trace'] },
  { title: 'Look back', places: ['figures', 'pinned'] },
] as const

/** The index of places; a count where something waits, copper where it is bad. */
export function PlaceIndex({ current }: { current: string }) {
  const { data } = usePlacesQuery()
  const dispatch = useAppDispatch()
  const project = usePeople().me?.project.prefix ?? ''
  const { data: views } = useViewsQuery(project, { skip: project === '' })
  // The board, the calendar and the outline are ways of looking at the items.
  const isAt = (place: string) => current === place || (place === 'items' && LAYOUTS.some((layout) => layout === current))
  const pinned = views?.rows.filter((view) => view.isPinned) ?? []
  const counts: Record<string, [number, boolean]> = data
    ? {
        desk: [data.desk, false],
        triage: [data.triage, true],
        items: [data.items, false],
        faults: [data.faults, true],
        code: [data.code, false],
        builds: [data.brokenBuilds, true],
        releases: [data.approvals, true],
        incidents: [data.incidents, true],
        requirements: [data.requirements, false],
      }
    : {}
  return (
    <nav aria-label="Places" className="w-[142px] shrink-0 border-r border-edge py-3 max-[900px]:w-[96px]">
      {GROUPS.map((group) => (
        <div key={group.title} className="mb-3">
          <div className="px-4 pb-1 text-[12px] text-ink-3">{group.title}</div>
          {group.places.map((place) => {
            const [count, isBad] = counts[place] ?? [0, false]
            return (
              <NavLink
                key={place}
                to={`/${place}`}
                aria-current={isAt(place) ? 'page' : undefined}
                className={`flex justify-between px-4 py-[3px] ${isAt(place) ? 'bg-mark font-bold text-ink' : 'text-ink-2 hover:text-ink'}`}
              >
                <span>{titleOf({ kind: place, id: '' })}</span>
                {count > 0 && <span className={isBad ? 'font-bold text-fault' : 'font-normal text-ink-3'}>{count}</span>}
              </NavLink>
            )
          })}
          {group.title === 'Look back' && (
            <button
              type="button"
              onClick={() => dispatch(dialogOpened('past'))}
              className="block w-full px-4 py-[3px] text-left text-ink-2 hover:text-ink"
            >
              An earlier day…
            </button>
          )}
          {group.title === 'Work' &&
            pinned.map((view) => (
              <NavLink
                key={view.viewId}
                to={printTrail([segmentOfView(view)])}
                title={view.filter}
                className="block truncate py-[3px] pr-4 pl-7 text-ink-2 hover:text-ink"
              >
                {view.name}
              </NavLink>
            ))}
        </div>
      ))}
    </nav>
  )
}
