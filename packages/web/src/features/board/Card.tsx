import { actionOf } from '#shared/lib/keys'
import { useDraggable } from '@dnd-kit/core'
import type { ItemSummary } from '@dystracer/core/records/wire'
import { usePeople } from '#features/people/index'
import { Initials, Severity } from '#shared/ui/parts'
import { Stair } from '#shared/ui/Stair'
import type { Cell } from './use-board-moves'

/** What a card shows: key, severity, title, stair, owner. */
export function CardFace({
  item,
  hasStair,
  isLifted = false,
  isOpen = false,
  isChosen = false,
}: {
  item: ItemSummary
  /** Left out where the columns are stages and say the same. */
  hasStair: boolean
  isLifted?: boolean
  isOpen?: boolean
  isChosen?: boolean
}) {
  const people = usePeople()
  return (
    <div
      className={`flex h-[72px] flex-col justify-between rounded-[3px] border px-2 py-1
        ${isOpen ? 'border-edge bg-mark' : 'border-edge bg-sheet'} ${isLifted ? 'w-[180px] shadow-2xl' : ''}`}
    >
      <span className="line-clamp-2 text-[13px] leading-[1.3]">{item.title}</span>
      <span className="flex items-center gap-2">
        {isChosen && (
          <span role="img" aria-label="chosen" className="text-proof">
            ✓
          </span>
        )}
        <span className="font-mono text-[12px] text-ink-2">{item.key}</span>
        <Severity value={item.severity} />
        {item.isBlocked && <span className="text-[12px] text-fault">blocked</span>}
        {item.hasComeBack && <span className="text-[12px] font-bold text-fault">back</span>}
        <span className="ml-auto">
          {hasStair && <Stair stair={item.stair} isRejected={item.disposition !== null} hasComeBack={item.hasComeBack} />}
        </span>
        <Initials text={people.initialsOf(item.ownerId)} name={people.nameOf(item.ownerId)} />
      </span>
    </div>
  )
}

/** A card that can be lifted. Enter opens it, arrows go to its neighbours, Alt and left or right take it to the next column. */
export function Card({
  item,
  place,
  hasStair,
  canMove,
  isOpen,
  isChosen,
  onChoose,
  onOpen,
  onStep,
}: {
  item: ItemSummary
  /** The cell in which it stands; a card with two labels stands in two. */
  place: Cell
  hasStair: boolean
  canMove: boolean
  isOpen: boolean
  isChosen: boolean
  onChoose: () => void
  onOpen: (isStep: boolean) => void
  onStep: (by: number) => void
}) {
  const { setNodeRef, listeners, isDragging } = useDraggable({ id: JSON.stringify({ key: item.key, ...place }), disabled: !canMove })
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...listeners}
      data-card={item.key}
      aria-pressed={isChosen}
      aria-keyshortcuts="Alt+ArrowLeft Alt+ArrowRight"
      className={`block w-full touch-manipulation text-left ${isDragging ? 'opacity-40' : ''}`}
      onClick={() => onOpen(false)}
      onKeyDown={(event) => {
        const action = actionOf('board', event)
        if (action === null || action === 'open') return
        // The pane's own arrows go from pane to pane.
        event.stopPropagation()
        event.preventDefault()
        if (action === 'choose') onChoose()
        else if (action === 'cards') focusNeighbour(event.currentTarget, event.key)
        else if (canMove) onStep(action === 'back' ? -1 : 1)
      }}
    >
      <CardFace item={item} hasStair={hasStair} isOpen={isOpen} isChosen={isChosen} />
    </button>
  )
}

/** Gives the keyboard to the card above or below, or to the one at the same height in the next column that has any. */
function focusNeighbour(card: HTMLElement, key: string): void {
  const column = card.closest('[data-column]')
  if (!column) return
  const cardsOf = (element: Element) => [...element.querySelectorAll<HTMLElement>('[data-card]')]
  const own = cardsOf(column)
  if (key === 'ArrowUp' || key === 'ArrowDown') {
    own[own.indexOf(card) + (key === 'ArrowDown' ? 1 : -1)]?.focus()
    return
  }
  const columns = [...(column.parentElement?.querySelectorAll('[data-column]') ?? [])]
  const step = key === 'ArrowRight' ? 1 : -1
  for (let at = columns.indexOf(column) + step; at >= 0 && at < columns.length; at += step) {
    const cards = cardsOf(columns[at] as Element)
    const next = cards[Math.min(own.indexOf(card), cards.length - 1)]
    if (next) {
      next.focus()
      return
    }
  }
}
