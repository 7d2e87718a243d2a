import type { FiredRow } from '@dystracer/core/faults/intake-wire'
import { plural } from '#shared/lib/format'
import { When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { judgementWords } from './rule-words'

const STROKE: Record<'holds' | 'gone' | 'missed', string> = {
  holds: 'h-[3px] bg-proof',
  gone: 'h-px bg-ink-3',
  missed: 'h-px border-t border-dashed border-fault',
}
const TONE: Record<NonNullable<FiredRow['judgement']>, string> = { taken: 'text-proof', rejected: 'text-fault', waiting: 'text-ink-3' }

/** Faults that a rule took, or would have: which, how bad they were by then, and what people did with the item. */
export function FiredLines({ rows, stroke, label }: { rows: readonly FiredRow[]; stroke: keyof typeof STROKE; label: string }) {
  return (
    <ul aria-label={label} className="m-0 list-none p-0">
      {rows.map((row) => (
        <li key={row.fault} className="flex items-baseline gap-2.5 border-b border-edge-soft py-1 last:border-0">
          <span aria-hidden="true" className={`w-[18px] shrink-0 self-center ${STROKE[stroke]}`} />
          <span className="w-[42px] shrink-0 font-mono text-[12px]">
            <ThingLink to={{ kind: 'fault', id: row.fault }} />
          </span>
          <span className="min-w-0 flex-1">
            <span className="block truncate">
              {row.type} <span className="text-ink-2">{row.message}</span>
            </span>
            <span className="block truncate text-[12px] text-ink-2">
              {row.service} · <When atMs={row.atMs} /> · {plural(row.count, 'time')}
              {row.people > 0 && `, ${plural(row.people, 'person', 'people')}`}
              {row.release !== null && ` · ${row.release}`}
            </span>
          </span>
          {row.key && (
            <span className="max-w-[45%] shrink-0 text-right text-[12px]">
              <ThingLink to={{ kind: 'item', id: row.key }} />
              <span className={`block truncate ${row.judgement ? TONE[row.judgement] : ''}`}>{judgementWords(row)}</span>
            </span>
          )}
        </li>
      ))}
    </ul>
  )
}
