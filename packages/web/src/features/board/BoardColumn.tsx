import { useDroppable } from '@dnd-kit/core'
import { useVirtualizer } from '@tanstack/react-virtual'
import type { BoardField } from '@dystracer/core/board/board'
import type { ItemSummary } from '@dystracer/core/records/wire'
import { useRef, useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { useChangeSetupMutation } from '#features/setup/setup.api'
import { useLogItemMutation } from '#features/items/items.api'
import { problemText } from '#shared/lib/problem-text'
import { ownFieldAt, type OwnField } from '@dystracer/core/setup/own-field'
import { usePlaces } from '#features/looking/index'
import { usePeople } from '#features/people/index'
import type { Body } from '#shared/lib/api'
import { TextInput } from '#shared/ui/fields'
import { Card } from './Card'
import type { Cell } from './use-board-moves'

const CARD_PX = 78

/** One column: its head with the count and the limit, its cards (only those on screen are drawn), and a field that adds one in place. */
export function BoardColumn({
  place,
  field,
  label,
  cards,
  most,
  refusal,
  isOver,
  canMove,
  chosenKeys,
  onChoose,
  openKey,
  onOpen,
  onStep,
}: {
  place: Cell
  field: BoardField
  label: string
  cards: readonly ItemSummary[]
  most: number | null
  refusal: string | null
  isOver: boolean
  canMove: boolean
  chosenKeys: ReadonlySet<string>
  onChoose: (key: string) => void
  openKey: string | null
  onOpen: (key: string, isStep: boolean) => void
  onStep: (item: ItemSummary, by: number) => void
}) {
  const { setNodeRef } = useDroppable({ id: JSON.stringify(place) })
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: cards.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => CARD_PX,
    overscan: 6,
  })
  const { value } = place
  const isFull = most !== null && cards.length > most
  return (
    <div
      ref={setNodeRef}
      data-column={value}
      className={`flex w-[158px] shrink-0 grow flex-col border-r border-edge-soft
        ${refusal ? 'bg-fault-soft' : isOver ? 'bg-proof-soft' : ''}`}
    >
      <div className="flex items-baseline gap-2 border-b border-edge px-2 py-1">
        <span className="min-w-0 flex-1 truncate font-bold first-letter:uppercase">{label}</span>
        <Limit field={field} value={value} label={label} count={cards.length} most={most} isFull={isFull} />
      </div>
      {refusal && (
        <p role="status" className="px-2 py-1 text-[12px] text-fault">
          {refusal}
        </p>
      )}
      {/* What scrolls must be reachable by keyboard; its cards are. */}
      <div ref={scroller} className="min-h-0 flex-1 overflow-y-auto px-2 pt-1.5">
        <ul aria-label={label} className="relative m-0 list-none p-0" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((entry) => {
            const item = cards[entry.index] as ItemSummary
            return (
              <li key={item.key} className="absolute left-0 w-full" style={{ transform: `translateY(${entry.start}px)` }}>
                <Card
                  item={item}
                  place={place}
                  hasStair={field !== 'stage'}
                  canMove={canMove}
                  isOpen={item.key === openKey}
                  isChosen={chosenKeys.has(item.key)}
                  onChoose={() => onChoose(item.key)}
                  onOpen={(isStep) => onOpen(item.key, isStep)}
                  onStep={(by) => onStep(item, by)}
                />
              </li>
            )
          })}
        </ul>
      </div>
      {canMove && <AddHere field={field} value={value} label={label} />}
    </div>
  )
}

/** The count, with the limit beside it; a lead sets the limit by a click. A limit warns, it stops nobody. */
function Limit({
  field,
  value,
  label,
  count,
  most,
  isFull,
}: {
  field: string
  value: string
  label: string
  count: number
  most: number | null
  isFull: boolean
}) {
  const { me, may } = usePeople()
  const [isOpen, setIsOpen] = useState(false)
  const [change] = useChangeSetupMutation()
  const words = most === null ? `${count}` : `${count} of ${most}`
  const set = async (text: string) => {
    setIsOpen(false)
    const next = text.trim() === '' ? null : Number(text)
    if (next === most) return
    const result = await change({ project: me?.project.prefix ?? '', what: 'setLimit', body: { field, value, most: next } })
    if (result.error) toast.error(problemText(result.error))
  }
  if (isOpen)
    return (
      <TextInput
        autoFocus
        type="number"
        min={1}
        aria-label={`At most in ${label}`}
        className="w-[64px]! py-0!"
        defaultValue={most ?? ''}
        onBlur={(event) => void set(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur()
          if (event.key === 'Escape') setIsOpen(false)
        }}
      />
    )
  return may('setup.change') ? (
    <button
      type="button"
      aria-label={`${words} in ${label}. Set how many at most`}
      className={`text-[12px] ${isFull ? 'font-bold text-fault' : 'text-ink-2'}`}
      onClick={() => setIsOpen(true)}
    >
      {words}
    </button>
  ) : (
    <span className={`text-[12px] ${isFull ? 'font-bold text-fault' : 'text-ink-2'}`}>{words}</span>
  )
}

/** What an item is given that is logged in a column. */
function fieldsHere(field: BoardField, value: string, ownKind: OwnField['kind'] | undefined): Partial<Body<'logItem'>> {
  const ownId = ownFieldAt(field)
  if (ownId !== null) return value === '' ? {} : { ownValues: { [ownId]: ownKind === 'several-of' ? [value] : value } }
  switch (field) {
    case 'stage':
      return {}
    case 'owner':
      return { ownerId: value || null }
    case 'severity':
      return { severity: value === '' ? null : Number(value) }
    case 'type':
      return value === '' ? {} : { type: value }
    case 'labels':
      return { labels: value === '' ? [] : [value] }
    default:
      return { [field]: value || null }
  }
}

/** Logs an item that stands in this column at once. A stage is never given by logging: those columns log where all begin. */
function AddHere({ field, value, label }: { field: BoardField; value: string; label: string }) {
  const { me } = usePeople()
  const { ownField } = usePlaces()
  const { register, handleSubmit, reset } = useForm({ defaultValues: { title: '' } })
  const [log, { isLoading }] = useLogItemMutation()
  if (field === 'stage' && value !== 'logged') return null
  const fields = fieldsHere(field, value, ownField(field)?.kind)
  const add = handleSubmit(async ({ title }) => {
    if (title.trim() === '') return
    const input = { title: title.trim(), ...(me && { project: me.project.prefix }), ...fields }
    const result = await log({ input, idempotencyKey: crypto.randomUUID() })
    if (result.error) return void toast.error(problemText(result.error))
    toast.success(`${result.data.key} is logged`)
    reset()
  })
  return (
    <form className="border-t border-edge-soft px-2 py-1" onSubmit={(event) => void add(event)}>
      <TextInput
        aria-label={`Title of a new item in ${label}`}
        placeholder="add …"
        className="border-0! px-0! py-0.5! text-[12px]"
        maxLength={200}
        readOnly={isLoading}
        {...register('title')}
      />
    </form>
  )
}
