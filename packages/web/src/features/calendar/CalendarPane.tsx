import { actionOf } from '#shared/lib/keys'
import { DndContext, DragOverlay, useDraggable, useDroppable, type DragEndEvent } from '@dnd-kit/core'
import type { ItemSummary } from '@dystracer/core/records/wire'
import { addDays, addMonths, byDay, weeksOf } from '@dystracer/core/looking/calendar'
import { format } from 'date-fns'
import { Popover } from 'radix-ui'
import { useMemo, useState, type KeyboardEvent } from 'react'
import { toast } from 'sonner'
import { useBoardItemsQuery } from '#features/looking/looking.api'
import { useChangeItemMutation } from '#features/items/items.api'
import { useChangeSetupMutation, useSetupQuery } from '#features/setup/setup.api'
import { useReleasesQuery } from '#features/releases/releases.api'
import { useUndoMutation } from '#features/undo/undo.api'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { useDragSensors } from '#shared/lib/use-drag-sensors'
import { usePeople } from '#features/people/index'
import { pageNowMs } from '#shared/lib/past'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Button, Pending, Severity } from '#shared/ui/parts'
import { LookFrame, useChosen, useLook } from '#features/looking/index'

const ITEMS_MAX = 2000
const UNDATED_MAX = 60
const SHOWN_PER_DAY = 3
const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
const STEP_DAYS: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 }

/** What stands on a day. Releases are evidence and stay where they happened. */
type Mark =
  | { kind: 'item'; id: string; day: string | null; item: ItemSummary }
  | { kind: 'milestone'; id: string; day: string; name: string }
  | { kind: 'release'; id: string; day: string; name: string; ref: string }

/**
 * The items of a filter on their due days, with milestones and releases; a thing is dragged to another day, or moved by Alt and the arrows.
 */
export function CalendarPane({ id }: { id: string }) {
  const people = usePeople()
  const look = useLook(id, 'calendar')
  const today = format(pageNowMs(), 'yyyy-MM-dd')
  const month = look.month ?? today.slice(0, 7)
  const weeks = useMemo(() => weeksOf(month), [month])
  const within = look.filter === '' ? '' : `(${look.filter}) `
  const from = weeks[0]?.[0] ?? ''
  const to = weeks.at(-1)?.[6] ?? ''
  const { data, error, isLoading } = useBoardItemsQuery({ filter: `${within}due>=${from} due<=${to}`, sort: 'due', limit: ITEMS_MAX })
  const { data: undated } = useBoardItemsQuery({ filter: `${within}not due>=0001-01-01`, sort: 'worst', limit: UNDATED_MAX })
  const { marksOf, dayOf, move } = useMarks(data?.rows ?? [])
  const [dragged, setDragged] = useState<Mark | null>(null)
  const sensors = useDragSensors()
  const marks = marksOf()
  const days = byDay(marks, (mark) => dayOf(mark))
  const waiting = (undated?.rows ?? [])
    .map((item): Mark => ({ kind: 'item', id: item.key, day: null, item }))
    .filter((mark) => dayOf(mark) === null)
  const onDragEnd = (event: DragEndEvent) => {
    setDragged(null)
    const mark = [...marks, ...waiting].find((known) => known.id === event.active.id)
    const place = event.over?.id
    if (!mark || place === undefined || mark.kind === 'release') return
    void move(mark, place === 'none' ? null : String(place))
  }
  return (
    <LookFrame look={look} count={data ? `${plural(data.total ?? data.rows.length, 'item')} due` : ''}>
      <div className="flex items-center gap-2 border-b border-edge px-3 py-1">
        <Button aria-label="The month before" onClick={() => look.set({ month: addMonths(month, -1) })}>
          ‹
        </Button>
        <b className="w-[120px] text-center" aria-live="polite">
          {format(new Date(`${month}-15T12:00:00`), 'MMMM yyyy')}
        </b>
        <Button aria-label="The month after" onClick={() => look.set({ month: addMonths(month, 1) })}>
          ›
        </Button>
        {month !== today.slice(0, 7) && (
          <Button look="text" onClick={() => look.set({ month: undefined })}>
            Today
          </Button>
        )}
        <span className="ml-auto text-[12px] text-ink-3">
          {people.may('items.change') ? 'Drag to another day, or Alt and the arrows' : ''}
        </span>
      </div>
      <Pending error={error} isLoading={isLoading} />
      <DndContext
        sensors={sensors}
        onDragStart={(event) => setDragged([...marks, ...waiting].find((mark) => mark.id === event.active.id) ?? null)}
        onDragEnd={onDragEnd}
        onDragCancel={() => setDragged(null)}
      >
        <div className="flex min-h-0 flex-1">
          {/* What scrolls is scrolled by keyboard, too, where no day holds anything. */}
          <section aria-label={`Days of ${month}`} className="min-w-0 flex-1 overflow-auto" tabIndex={0}>
            <table aria-label={`Due days of ${month}`} data-calendar className="h-full w-full table-fixed border-collapse">
              <thead>
                <tr className="h-[24px] border-b border-edge text-left text-[12px] text-ink-3">
                  {WEEKDAYS.map((name) => (
                    <th key={name} className="px-2 font-normal">
                      {name}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {weeks.map((week) => (
                  <tr key={week[0]} className="border-b border-edge-soft">
                    {week.map((day) => (
                      <Day
                        key={day}
                        day={day}
                        isToday={day === today}
                        isOther={!day.startsWith(month)}
                        marks={days.get(day) ?? []}
                        onMove={(mark, by) => void move(mark, addDays(day, by))}
                      />
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
          <Undated marks={waiting} total={undated?.total ?? waiting.length} onGive={(mark) => void move(mark, today)} />
        </div>
        <DragOverlay dropAnimation={null}>
          {dragged && (
            <span className="block max-w-[200px] truncate rounded-[3px] border border-edge bg-sheet px-1 shadow-2xl">
              {nameOf(dragged)}
            </span>
          )}
        </DragOverlay>
      </DndContext>
    </LookFrame>
  )
}

/** What stands on days, and how it is moved: at once on the screen, then on the server, with an undo. */
function useMarks(items: readonly ItemSummary[]) {
  const people = usePeople()
  const project = people.me?.project.prefix ?? ''
  const { data: setup } = useSetupQuery(project, { skip: project === '' })
  const { data: board } = useReleasesQuery()
  const [change] = useChangeItemMutation()
  const [changeSetup] = useChangeSetupMutation()
  const [undo] = useUndoMutation()
  const [moved, setMoved] = useState<Record<string, string | null>>({})
  const dayOf = (mark: Mark) => (mark.id in moved ? (moved[mark.id] ?? null) : mark.day)
  const marksOf = (): Mark[] => [
    ...(setup?.milestones ?? []).flatMap((milestone): Mark[] =>
      milestone.dueOn === null
        ? []
        : [{ kind: 'milestone', id: `milestone ${milestone.name}`, day: milestone.dueOn, name: milestone.name }],
    ),
    ...(board?.services ?? []).flatMap((service) =>
      service.releases.map(
        (release): Mark => ({
          kind: 'release',
          id: `release ${release.service}@${release.release}`,
          day: format(release.atMs, 'yyyy-MM-dd'),
          name: `${release.service} ${release.release}`,
          ref: `${release.service}@${release.release}`,
        }),
      ),
    ),
    ...items.map((item): Mark => ({ kind: 'item', id: item.key, day: item.dueOn, item })),
  ]
  const move = async (mark: Mark, day: string | null, isUndo = false): Promise<void> => {
    if (mark.kind === 'release' || dayOf(mark) === day || !people.may(mark.kind === 'milestone' ? 'setup.change' : 'items.change')) return
    setMoved((now) => ({ ...now, [mark.id]: day }))
    const milestone = mark.kind === 'milestone' ? setup?.milestones.find((known) => known.name === mark.name) : undefined
    const result =
      mark.kind === 'item'
        ? await change({ key: mark.item.key, change: { dueOn: day } })
        : milestone
          ? await changeSetup({
              project,
              what: 'setMilestone',
              body: {
                milestone: { name: milestone.name, startsOn: milestone.startsOn, dueOn: day, isClosed: milestone.isClosed },
                formerName: milestone.name,
              },
            })
          : { error: undefined }
    setMoved(({ [mark.id]: _settled, ...rest }) => rest)
    if (result.error) return void toast.error(problemText(result.error))
    const takeBack = () =>
      mark.kind === 'item'
        ? void undo({}).then((answer) => answer.error && toast.error(problemText(answer.error)))
        : void move({ ...mark, day: day ?? mark.day }, mark.day, true)
    toast.success(day === null ? `${nameOf(mark)} has no due day now` : `${nameOf(mark)} is due on ${day}`, {
      // What an undo says is a message of its own, since the one that was clicked is on its way out.
      ...(!isUndo && { id: 'calendar', action: { label: 'Undo', onClick: takeBack } }),
    })
  }
  return { marksOf, dayOf, move }
}

function nameOf(mark: Mark): string {
  return mark.kind === 'item' ? mark.item.key : mark.kind === 'milestone' ? `Milestone ${mark.name}` : mark.name
}

function Day({
  day,
  isToday,
  isOther,
  marks,
  onMove,
}: {
  day: string
  isToday: boolean
  isOther: boolean
  marks: readonly Mark[]
  onMove: (mark: Mark, byDays: number) => void
}) {
  const { setNodeRef, isOver } = useDroppable({ id: day })
  const rest = marks.slice(SHOWN_PER_DAY)
  return (
    <td
      ref={setNodeRef}
      aria-label={format(new Date(`${day}T12:00:00`), 'EEEE d MMMM')}
      data-day={day}
      className={`@container h-[94px] overflow-hidden border-r border-edge-soft p-0.5 align-top
        ${isOver ? 'bg-proof-soft' : isOther ? 'bg-paper' : ''}`}
    >
      <span className={`px-1 text-[12px] leading-[18px] ${isToday ? 'bg-mark font-bold' : 'text-ink-3'}`}>{Number(day.slice(8))}</span>
      {marks.slice(0, SHOWN_PER_DAY).map((mark) => (
        <MarkChip key={mark.id} mark={mark} onMove={(by) => onMove(mark, by)} />
      ))}
      {rest.length > 0 && (
        <Popover.Root>
          <Popover.Trigger type="button" className="h-6 self-start px-1 text-[12px] text-ink-2 underline">
            {rest.length} more
          </Popover.Trigger>
          <Popover.Portal>
            <Popover.Content
              aria-label={`All of ${day}`}
              className="z-40 flex max-h-[300px] w-[240px] flex-col gap-px overflow-y-auto rounded-[3px] border border-edge
                bg-sheet p-2 shadow-2xl"
            >
              {marks.map((mark) => (
                <MarkChip key={mark.id} mark={mark} isFixed onMove={(by) => onMove(mark, by)} />
              ))}
            </Popover.Content>
          </Popover.Portal>
        </Popover.Root>
      )}
    </td>
  )
}

/** One thing on a day. Enter opens it, Space chooses an item, Alt and the arrows move it by a day or a week. */
function MarkChip({ mark, isFixed = false, onMove }: { mark: Mark; isFixed?: boolean; onMove: (byDays: number) => void }) {
  const trail = usePaneTrail()
  const people = usePeople()
  const chosen = useChosen()
  const canMove = mark.kind === 'item' ? people.may('items.change') : mark.kind === 'milestone' && people.may('setup.change')
  const { setNodeRef, listeners, isDragging } = useDraggable({ id: mark.id, disabled: !canMove || isFixed })
  const open = () => {
    if (mark.kind === 'item') trail.open({ kind: 'item', id: mark.id })
    else if (mark.kind === 'release') trail.open({ kind: 'release', id: mark.ref })
    else trail.open({ kind: 'items', id: `milestone=${/[\s()]/.test(mark.name) ? `"${mark.name}"` : mark.name}` })
  }
  const onKeyDown = (event: KeyboardEvent) => {
    const action = actionOf('calendar', event)
    if (action === null || action === 'open' || (action === 'choose' && mark.kind !== 'item')) return
    event.preventDefault()
    if (action === 'choose') {
      chosen.toggle(mark.id)
      return
    }
    // The pane's own arrows go from pane to pane.
    event.stopPropagation()
    if (action === 'things') focusNeighbour(event.currentTarget as HTMLElement, event.key)
    else if (canMove) onMove(STEP_DAYS[event.key] ?? 0)
  }
  const isOpen = mark.kind === 'item' && trail.next?.kind === 'item' && trail.next.id === mark.id
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...listeners}
      data-mark={mark.id}
      {...(mark.kind === 'item' && { 'aria-pressed': chosen.keys.has(mark.id) })}
      title={mark.kind === 'item' ? `${mark.id} ${mark.item.title}` : nameOf(mark)}
      onClick={open}
      onKeyDown={onKeyDown}
      className={`flex w-full min-w-0 touch-manipulation items-center gap-1 rounded-[2px] px-1 text-left text-[12px]
        leading-[24px] ${isOpen ? 'bg-mark' : 'hover:bg-paper'} ${isDragging ? 'opacity-40' : ''}`}
    >
      {mark.kind === 'item' ? (
        <>
          {chosen.keys.has(mark.id) && (
            <span role="img" aria-label="chosen" className="text-proof">
              ✓
            </span>
          )}
          <Severity value={mark.item.severity} />
          <span className={`min-w-0 truncate ${mark.item.disposition || mark.item.stage === 'verified' ? 'text-ink-3 line-through' : ''}`}>
            <span className="hidden font-mono text-ink-2 @min-[130px]:inline">{mark.id}</span> {mark.item.title}
          </span>
        </>
      ) : mark.kind === 'milestone' ? (
        <span className="truncate border-b-2 border-ink font-bold">{mark.name} due</span>
      ) : (
        <span className="truncate text-proof">{mark.name}</span>
      )}
    </button>
  )
}

/** Gives the keyboard to the next thing on the calendar in reading order, or to the first of the same weekday a week away. */
function focusNeighbour(chip: HTMLElement, key: string): void {
  const grid = chip.closest('[data-calendar]')
  if (!grid) return
  if (key === 'ArrowLeft' || key === 'ArrowRight') {
    const all = [...grid.querySelectorAll<HTMLElement>('[data-mark]')]
    all[all.indexOf(chip) + (key === 'ArrowRight' ? 1 : -1)]?.focus()
    return
  }
  const cell = chip.closest<HTMLElement>('[data-day]')
  const own = [...(cell?.querySelectorAll<HTMLElement>('[data-mark]') ?? [])]
  const beside = own[own.indexOf(chip) + (key === 'ArrowDown' ? 1 : -1)]
  if (beside) {
    beside.focus()
    return
  }
  for (let day = cell?.dataset.day ?? '', step = 0; step < 6; step++) {
    day = addDays(day, key === 'ArrowDown' ? 7 : -7)
    const mark = grid.querySelector<HTMLElement>(`[data-day="${day}"] [data-mark]`)
    if (mark) {
      mark.focus()
      return
    }
  }
}

/** What has no due day yet; dragged onto one, or given today's by a click. */
function Undated({ marks, total, onGive }: { marks: readonly Mark[]; total: number; onGive: (mark: Mark) => void }) {
  const { setNodeRef, isOver } = useDroppable({ id: 'none' })
  return (
    <section
      ref={setNodeRef}
      aria-label="Without a due day"
      className={`flex w-[150px] shrink-0 flex-col border-l border-edge ${isOver ? 'bg-proof-soft' : ''}`}
    >
      <h3 className="border-b border-edge px-2 py-0.5 text-[12px] font-normal text-ink-3">no due day: {total}</h3>
      <div className="@container min-h-0 flex-1 overflow-y-auto p-1">
        {marks.map((mark) => (
          <MarkChip key={mark.id} mark={mark} onMove={() => onGive(mark)} />
        ))}
      </div>
    </section>
  )
}
