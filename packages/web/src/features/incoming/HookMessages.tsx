import type { HookMessage, HookTried } from '@dystracer/core/incoming/wire'
import { placesOf } from '@dystracer/core/incoming/hook-reading'
import { useState } from 'react'
import { toast } from 'sonner'
import { problemText } from '#shared/lib/problem-text'
import { Button, SectionHead, When } from '#shared/ui/parts'
import { useReplayDeliveryMutation } from './incoming.api'
import { FIELD_WORDS, OUTCOME_LOOK, TELLS_WORDS } from './incoming.words'

/** What came by a hook, newest first: what became of it, what the readings being tried would make of it, and what stands where in it. */
export function HookMessages({ rows, tried }: { rows: readonly HookMessage[]; tried: readonly HookTried[] | null }) {
  const [open, setOpen] = useState<number | null>(null)
  return (
    <section aria-label="What came by this hook">
      <SectionHead>What came</SectionHead>
      {rows.length === 0 && (
        <p className="text-ink-3">Nothing yet. The newest fifty messages stand here as they came; readings are made and tried on them.</p>
      )}
      <ul className="m-0 list-none p-0">
        {rows.map((row) => (
          <Message
            key={row.deliveryId}
            row={row}
            tried={tried?.find(({ deliveryId }) => deliveryId === row.deliveryId)}
            isOpen={open === row.deliveryId}
            onToggle={() => setOpen(open === row.deliveryId ? null : row.deliveryId)}
          />
        ))}
      </ul>
    </section>
  )
}

function Message({
  row,
  tried,
  isOpen,
  onToggle,
}: {
  row: HookMessage
  tried: HookTried | undefined
  isOpen: boolean
  onToggle: () => void
}) {
  const [replay, { isLoading }] = useReplayDeliveryMutation()
  const again = async () => {
    const result = await replay(String(row.deliveryId))
    if (result.error) toast.error(problemText(result.error))
    else toast.success('Taken again')
  }
  return (
    <li className="border-b border-edge-soft py-1">
      <div className="flex items-baseline gap-3">
        <Button look="line" aria-expanded={isOpen} onClick={onToggle}>
          <When atMs={row.atMs} />
        </Button>
        <span className="min-w-0 flex-1 text-[12px] text-ink-2">{row.why}</span>
        <span className={OUTCOME_LOOK[row.outcome]}>{row.outcome}</span>
        <Button look="line" disabled={isLoading} aria-label={`take again: message ${row.deliveryId}`} onClick={() => void again()}>
          take again
        </Button>
      </div>
      {tried && <Tried tried={tried} />}
      {isOpen && (
        <table className="mt-1 w-full text-[12px]">
          <tbody>
            {placesOf(row.message).map(({ at, text }) => (
              <tr key={at} className="border-t border-edge-soft align-top">
                <th scope="row" className="w-[45%] py-0.5 pr-3 text-left font-mono font-normal break-all text-ink-2">
                  {at}
                </th>
                <td className="py-0.5 break-all">{text.length > 300 ? `${text.slice(0, 300)}…` : text}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </li>
  )
}

/** What the readings being tried make of a message. */
function Tried({ tried }: { tried: HookTried }) {
  if (tried.reading === null) return <p className="m-0 text-[12px] text-ink-3">None of these readings is about it.</p>
  const tells = TELLS_WORDS[tried.tells as keyof typeof TELLS_WORDS]
  const values = Object.entries(tried.values)
    .map(([field, value]) => `${field} ${value}`)
    .join(', ')
  if (tried.lacks.length > 0)
    return (
      <p className="m-0 text-[12px] text-fault">
        “{tried.reading}”: {tells}, but it lacks {tried.lacks.map((field) => FIELD_WORDS[field as keyof typeof FIELD_WORDS]).join('; ')}
      </p>
    )
  return (
    <p className="m-0 text-[12px] text-proof">
      “{tried.reading}”: {tells}: {values}
    </p>
  )
}
