import { useState, useSyncExternalStore } from 'react'
import { usePeople } from '#features/people/index'
import { fullDate, plural } from '#shared/lib/format'
import { addressAt, pastAt, readyingStore } from '#shared/lib/past'
import { Button } from '#shared/ui/parts'
import { LateDialog } from './LateDialog'
import { LookBackDialog } from './LookBackDialog'
import { useLateFactsQuery } from './past.api'

/** Says on every page of the past that it is one, and leads back to now. */
export function PastBand() {
  if (pastAt === null) return null
  return <Band at={pastAt} />
}

function Band({ at }: { at: string }) {
  const [dialog, setDialog] = useState<'moment' | 'late' | null>(null)
  const readying = useSyncExternalStore(readyingStore.subscribe, readyingStore.get)
  const { me } = usePeople()
  const { data: late } = useLateFactsQuery(at, { skip: me === undefined })
  const count = late?.rows.length ?? 0
  return (
    <section aria-label="Looking back" className="flex flex-wrap items-baseline gap-x-4 gap-y-1 bg-ochre-soft px-4 py-1.5">
      <p role="status">
        {readying === null ? (
          <>
            <b>As of {fullDate(Date.parse(at))}:</b> what was known here then. Nothing can be changed.
          </>
        ) : (
          <>
            <b>Going back to {fullDate(Date.parse(at))}</b>: {readying.done.toLocaleString('en-GB')} of{' '}
            {plural(readying.total, 'entry', 'entries')} of the journal are read …
          </>
        )}
      </p>
      <span className="text-[12px] text-ink-2">People are called as they are today; how often faults occurred is told to the day.</span>
      {count > 0 && (
        <Button look="line" onClick={() => setDialog('late')}>
          {late?.nextCursor ? `more than ${count}` : count} came late…
        </Button>
      )}
      <span className="ml-auto flex gap-4">
        <Button look="line" onClick={() => setDialog('moment')}>
          another moment…
        </Button>
        {/* A new page: nothing of two moments is mixed. */}
        <a className="link font-bold" href={addressAt(null)}>
          back to now
        </a>
      </span>
      {dialog === 'moment' && <LookBackDialog onClose={() => setDialog(null)} />}
      {dialog === 'late' && late && <LateDialog at={at} late={late} onClose={() => setDialog(null)} />}
    </section>
  )
}
