import { formatMinutes } from '@dystracer/core/text/duration'
import { Link } from 'react-router'
import { useHandQuery } from '#features/hand/hand.api'
import { footLineOf } from '#shared/lib/keys'
import { pastAt } from '#shared/lib/past'
import { useAppSelector } from '#shared/lib/store'
import { usePeople } from '#features/people/index'

const WORD = { live: 'live', connecting: 'connecting …', lost: 'connection lost, trying again' } as const

function lookOf(live: keyof typeof WORD): string {
  if (pastAt !== null) return 'bg-ochre'
  return live === 'live' ? 'bg-proof' : 'bg-fault'
}

/** Whether the page is live, and what keys do here. */
export function FootLine({ place, outsideUrl }: { place: string; outsideUrl: string | null }) {
  const live = useAppSelector((state) => state.shell.live)
  const { may } = usePeople()
  const { data: hand } = useHandQuery(undefined, { skip: !may('items.change') })
  return (
    <footer className="flex h-[26px] items-center gap-6 border-t border-edge px-4 text-[12px] text-ink-2">
      <span role="status" className="flex items-center gap-2">
        <span aria-hidden="true" className={`h-[7px] w-[7px] rounded-full ${lookOf(live)}`} />
        {pastAt === null ? WORD[live] : 'looking back'}
      </span>
      {hand?.current && (
        <Link to={`/desk/item~${hand.current.item.key}`} className="min-w-0 truncate">
          In hand: <b>{hand.current.item.key}</b> · {formatMinutes(Math.floor(hand.current.workedMs / 60_000))}
        </Link>
      )}
      {outsideUrl && (
        <a className="link" href={outsideUrl} target="_blank" rel="noreferrer">
          Outside
        </a>
      )}
      <span className="ml-auto font-mono whitespace-pre max-[900px]:hidden">{footLineOf(place)}</span>
    </footer>
  )
}
