import { format, parseISO } from 'date-fns'
import { DayPicker } from 'react-day-picker'

const LOOK = {
  root: 'relative p-3',
  nav: 'absolute right-3 top-3 flex gap-1',
  button_previous: 'rounded-[2px] border border-edge px-1.5 hover:bg-mark',
  button_next: 'rounded-[2px] border border-edge px-1.5 hover:bg-mark',
  chevron: 'inline-block h-3 w-3 fill-ink-2',
  month_caption: 'pb-2 font-bold',
  weekday: 'w-8 text-[11px] font-normal text-ink-3',
  week_number: 'w-7 text-[11px] text-ink-3',
  day: 'h-7 w-8 p-0 text-center',
  day_button: 'h-7 w-8 rounded-[2px] hover:bg-mark',
  today: 'font-bold underline',
  selected: 'bg-proof text-sheet',
  outside: 'text-ink-3',
} as const

/** A month to pick a day from, weeks beginning on Monday; arrows move by day, Page Up and Down by month. */
export function DayCalendar({ value, onPick }: { value: string; onPick: (day: string) => void }) {
  const selected = value === '' ? undefined : parseISO(value)
  return (
    <DayPicker
      mode="single"
      autoFocus
      weekStartsOn={1}
      showWeekNumber
      showOutsideDays
      classNames={LOOK}
      labels={{ labelDayButton: (day) => format(day, 'd MMMM yyyy, EEEE') }}
      selected={selected}
      {...(selected && { defaultMonth: selected })}
      onSelect={(day) => onPick(day ? format(day, 'yyyy-MM-dd') : '')}
    />
  )
}
