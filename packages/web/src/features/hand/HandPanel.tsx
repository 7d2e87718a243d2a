import { formatMinutes } from '@dystracer/core/text/duration'
import type { Hand } from '@dystracer/core/hand/wire'
import { toast } from 'sonner'
import { useBookHandMutation, useHandQuery, useParkMutation, usePutDownMutation, useTakeInHandMutation } from './hand.api'
import { problemText } from '#shared/lib/problem-text'
import { usePeople } from '#features/people/index'
import { Button, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'

type Held = NonNullable<Hand['current']>

/** What I have in hand and what I parked for it. The time in hand is offered as a booking, never booked by itself. */
export function HandPanel() {
  const { may } = usePeople()
  const { data } = useHandQuery(undefined, { skip: !may('items.change'), pollingInterval: 60_000 })
  if (!data || (!data.current && data.parked.length === 0)) return null
  return (
    <section aria-label="In hand" className="border-b border-edge px-3 py-2">
      {data.current && <HeldRow held={data.current} isParked={false} />}
      {data.parked.map((held) => (
        <HeldRow key={held.item.key} held={held} isParked />
      ))}
    </section>
  )
}

function HeldRow({ held, isParked }: { held: Held; isParked: boolean }) {
  const [take] = useTakeInHandMutation()
  const [park] = useParkMutation()
  const [book] = useBookHandMutation()
  const [putDown] = usePutDownMutation()
  const { key } = held.item
  const run = async (work: Promise<{ error?: unknown }>, said: string) => {
    const { error } = await work
    if (error) toast.error(problemText(error))
    else toast.success(said)
  }
  return (
    <div className="flex items-center gap-2 py-0.5">
      <span className={`w-[64px] shrink-0 font-mono text-[12px] ${isParked ? 'text-ink-3' : 'font-bold text-proof'}`}>
        {isParked ? 'parked' : 'in hand'}
      </span>
      <span className="min-w-0 flex-1 truncate">
        <ThingLink to={{ kind: 'item', id: key }} /> {held.item.title}
        <span className="block truncate text-[12px] text-ink-2">
          {formatMinutes(Math.floor(held.workedMs / 60_000))} in hand, {isParked ? 'parked' : 'since'} <When atMs={held.sinceMs} />
          {held.branch && (
            <>
              {' '}
              on <span className="font-mono">{held.branch}</span>
            </>
          )}
        </span>
      </span>
      {held.offeredMinutes > 0 && (
        <Button
          aria-label={`Book ${formatMinutes(held.offeredMinutes)} on ${key}`}
          onClick={() =>
            void run(book({ key, minutes: held.offeredMinutes }), `${formatMinutes(held.offeredMinutes)} are booked on ${key}`)
          }
        >
          Book {formatMinutes(held.offeredMinutes)}
        </Button>
      )}
      {isParked ? (
        <Button aria-label={`Resume ${key}`} onClick={() => void run(take({ key }), `${key} is in hand again`)}>
          Resume
        </Button>
      ) : (
        <Button aria-label={`Park ${key}`} onClick={() => void run(park(key), `${key} is parked`)}>
          Park
        </Button>
      )}
      <Button look="text" aria-label={`Put down ${key}`} onClick={() => void run(putDown(key), `${key} is put down`)}>
        put down
      </Button>
    </div>
  )
}
