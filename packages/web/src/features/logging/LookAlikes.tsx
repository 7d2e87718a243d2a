import { whatDiffers, whyAlike } from '@dystracer/core/likeness/why-alike'
import type { LookAlike } from '@dystracer/core/likeness/wire'
import { Button } from '#shared/ui/parts'
import { Stair } from '#shared/ui/Stair'

/** Items that look like what is being written, each with why, and a way to say that it is the same. */
export function LookAlikes({ rows, onSame }: { rows: readonly LookAlike[]; onSame: (key: string) => void }) {
  if (rows.length === 0) return null
  return (
    <section aria-label="Look-alikes" className="mt-1 border-l-2 border-ochre bg-ochre-soft px-2 py-1">
      <p className="text-[12px] text-ink-2">Already known?</p>
      <ul className="m-0 list-none p-0">
        {rows.slice(0, 3).map(({ item, ...why }) => (
          <li key={item.key} className="flex items-center gap-2 py-0.5">
            <span className="font-mono text-[12px]">{item.key}</span>
            <span className="min-w-0 flex-1">
              <span className="block truncate">{item.title}</span>
              <span className="block truncate text-[12px] text-ink-2" title={whyAlike(why)}>
                {whyAlike(why)}
              </span>
              {whatDiffers(why) !== '' && <span className="block truncate text-[12px] text-ochre">{whatDiffers(why)}</span>}
            </span>
            <Stair stair={item.stair} isRejected={item.disposition !== null} hasComeBack={item.hasComeBack} />
            <Button aria-label={`It is this one: ${item.key}`} onClick={() => onSame(item.key)}>
              It is this one
            </Button>
          </li>
        ))}
      </ul>
    </section>
  )
}
