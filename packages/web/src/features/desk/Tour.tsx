import type { TourStop } from '@dystracer/core/desk/wire'
import { useState } from 'react'
import { Link } from 'react-router'
import { Button, SectionHead } from '#shared/ui/parts'

const AWAY = 'tour-away'
const SEEN = 'tour-seen'

function storedPaths(): string[] {
  return (localStorage.getItem(SEEN) ?? '').split('\n').filter(Boolean)
}

/** Places worth seeing, for a newcomer; those that were seen are pale. It is put away for good in this browser. */
export function Tour({ stops }: { stops: readonly TourStop[] }) {
  const [isAway, setIsAway] = useState(() => localStorage.getItem(AWAY) !== null)
  const [seen, setSeen] = useState(storedPaths)
  if (isAway || stops.length === 0) return null
  const goTo = (path: string) => {
    const paths = [...new Set([...seen, path])]
    localStorage.setItem(SEEN, paths.join('\n'))
    setSeen(paths)
  }
  return (
    <section aria-label="Worth seeing" className="border-b border-edge px-4 py-3">
      <div className="flex items-baseline justify-between">
        <SectionHead>Worth seeing first</SectionHead>
        <Button
          look="line"
          onClick={() => {
            localStorage.setItem(AWAY, '1')
            setIsAway(true)
          }}
        >
          Put this away
        </Button>
      </div>
      <ol className="m-0 list-none p-0">
        {stops.map(({ title, why, path }) => (
          <li key={path} className="py-1">
            <Link className={seen.includes(path) ? 'text-ink-2 underline' : 'link'} to={path} onClick={() => goTo(path)}>
              {title}
            </Link>
            <span className="text-ink-2">: {why}</span>
            {seen.includes(path) && <span className="text-[12px] text-ink-3"> · seen</span>}
          </li>
        ))}
      </ol>
    </section>
  )
}
