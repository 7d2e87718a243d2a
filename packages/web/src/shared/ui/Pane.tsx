import { X } from 'lucide-react'
import type { KeyboardEvent, ReactNode } from 'react'
import { usePaneTrail } from '#shared/lib/use-trail'

/**
 * The frame of every pane: a head with its name, what stands beside it, and the cross that closes it. Backspace closes, arrows left and
 * right go to the neighbours.
 */
export function Pane({
  title,
  note,
  aside,
  children,
  foot,
  label,
  onKeys,
}: {
  title: ReactNode
  /** Said smaller beside the title: of what, in which order, how many. */
  note?: ReactNode
  aside?: ReactNode
  children: ReactNode
  foot?: ReactNode
  label: string
  /** What the pane's own keys do, before those of every pane. */
  onKeys?: (event: KeyboardEvent<HTMLElement>) => void
}) {
  const trail = usePaneTrail()
  return (
    <section
      aria-label={label}
      data-pane={trail.index}
      onKeyDown={(event) => {
        if (!isTyping(event.target)) onKeys?.(event)
        if (!event.defaultPrevented) onPaneKey(event, trail.index, trail.close)
      }}
      className="flex h-full min-h-0 flex-col rounded-[3px] border border-edge bg-sheet"
    >
      <header className="flex min-h-[38px] items-center gap-3 border-b border-edge px-3">
        <h2 className="min-w-0 flex-1 truncate text-[15px] font-bold">
          {title}
          {note !== undefined && <span className="ml-1 text-[13px] font-normal text-ink-2"> {note}</span>}
        </h2>
        <div className="flex items-center gap-2 text-ink-2">{aside}</div>
        {trail.index > 0 && (
          <button type="button" aria-label={`Close ${label}`} onClick={trail.close} className="p-1 text-ink-3 hover:text-ink">
            <X size={14} />
          </button>
        )}
      </header>
      {/* What scrolls must be reachable by keyboard. */}
      <div tabIndex={0} className="min-h-0 flex-1 overflow-y-auto">
        {children}
      </div>
      {foot && <footer className="border-t border-edge px-3 py-2">{foot}</footer>}
    </section>
  )
}

function isTyping(target: EventTarget): boolean {
  return target instanceof HTMLElement && (target.isContentEditable || /^(?:INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
}

function onPaneKey(event: KeyboardEvent<HTMLElement>, index: number, close: () => void): void {
  // A list may have taken the key for itself.
  if (event.defaultPrevented || isTyping(event.target) || event.ctrlKey || event.altKey || event.metaKey) return
  if (event.key === 'Backspace' && index > 0) {
    event.preventDefault()
    close()
    requestAnimationFrame(() => focusPane(index - 1))
  }
  if (event.key === 'ArrowRight') focusPane(index + 1)
  if (event.key === 'ArrowLeft') focusPane(index - 1)
}

/** Gives the keyboard to a pane: its selected row, or the first thing that takes it. */
export function focusPane(index: number): void {
  const pane = document.querySelector<HTMLElement>(`[data-pane="${index}"]`)
  const target =
    pane?.querySelector<HTMLElement>('[role="listbox"]') ?? pane?.querySelector<HTMLElement>('a, button, input, [tabindex="0"]')
  target?.focus()
}
