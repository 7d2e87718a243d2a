import { gateInWords } from '@dystracer/core/reviews/gate-words'
import type { Review } from '@dystracer/core/reviews/wire'
import { usePeople } from '#features/people/index'
import { SectionHead } from '#shared/ui/parts'
import { Stroke, type Standing } from './Stroke'

type Gate = Review['gates'][number]

/** What has to hold before the merge, each as a sentence with its reason. */
export function GateList({ gates, base }: { gates: Review['gates']; base: string }) {
  const { nameOf } = usePeople()
  if (gates.length === 0) return null
  return (
    <section aria-label="Before the merge" className="mt-3">
      <SectionHead>Before it may go to {base}</SectionHead>
      <ul className="m-0 list-none p-0">
        {gates.map((gate) => (
          <li key={gate.code} className="flex gap-3 border-b border-edge-soft py-1">
            <Stroke standing={standingOf(gate)} />
            <span className="min-w-0 flex-1">{gateInWords(gate, nameOf)}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}

/** What waits for somebody or for time, and is not wrong. */
const OPEN: ReadonlySet<Gate['code']> = new Set(['agreements', 'owners', 'draft', 'hours', 'time', 'item', 'requirement'])

function standingOf({ code, isMet }: Gate): Standing {
  if (isMet) return 'holds'
  if (OPEN.has(code)) return 'open'
  return code === 'settled' || code === 'suspects' ? 'look' : 'fails'
}
