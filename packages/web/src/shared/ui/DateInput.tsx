import { isDay } from '@dystracer/core/setup/own-field'
import { CalendarDays } from 'lucide-react'
import { Popover } from 'radix-ui'
import { lazy, Suspense, useId, useState } from 'react'
import { TextInput } from './fields'

const DayCalendar = lazy(() => import('./DayCalendar').then((module) => ({ default: module.DayCalendar })))

/** A day, typed as 2026-12-01 or picked from a month. `onDone` hears of a real day or of '' only, when it is left, entered or picked. */
export function DateInput({
  label,
  value,
  onDone,
  disabled = false,
  className = '',
}: {
  label: string
  value: string
  onDone: (day: string) => void
  disabled?: boolean
  className?: string
}) {
  const [draft, setDraft] = useState<string | null>(null)
  const [isOpen, setIsOpen] = useState(false)
  const hintId = useId()
  const isWrong = draft !== null && draft !== '' && !isDay(draft)
  const leave = (text: string | null) => {
    if (text === null || (text !== '' && !isDay(text))) return
    setDraft(null)
    if (text !== value) onDone(text)
  }
  return (
    <span className="block">
      <span className="flex items-center">
        <TextInput
          aria-label={label}
          aria-invalid={isWrong}
          aria-describedby={isWrong ? hintId : undefined}
          placeholder="YYYY-MM-DD"
          maxLength={10}
          disabled={disabled}
          className={className}
          value={draft ?? value}
          onChange={(event) => setDraft(event.target.value.trim())}
          onBlur={() => leave(draft)}
          onKeyDown={(event) => {
            if (event.key === 'Enter') leave(draft)
            if (event.key === 'Escape' && draft !== null) {
              event.stopPropagation()
              setDraft(null)
            }
          }}
        />
        {!disabled && (
          <Popover.Root open={isOpen} onOpenChange={setIsOpen}>
            <Popover.Trigger
              type="button"
              aria-label={`${label}: pick from a calendar`}
              className="ml-1 shrink-0 rounded-[2px] p-0.5 text-ink-3 hover:bg-mark"
            >
              <CalendarDays size={14} aria-hidden />
            </Popover.Trigger>
            <Popover.Portal>
              <Popover.Content
                aria-label={`${label}: calendar`}
                align="end"
                sideOffset={4}
                className="z-50 rounded-[4px] border border-edge bg-sheet shadow-2xl"
              >
                <Suspense fallback={<span className="block px-4 py-3 text-ink-3">Reading …</span>}>
                  <DayCalendar
                    value={value}
                    onPick={(day) => {
                      setIsOpen(false)
                      leave(day)
                    }}
                  />
                </Suspense>
              </Popover.Content>
            </Popover.Portal>
          </Popover.Root>
        )}
      </span>
      {isWrong && (
        <span id={hintId} role="alert" className="block text-[12px] text-fault">
          A day such as 2026-12-01
        </span>
      )}
    </span>
  )
}
