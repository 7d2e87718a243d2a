import type { Outcome } from '@dystracer/core/cases/wire'

const STROKE: Record<Outcome | 'open', string> = {
  passed: 'h-[4px] bg-proof',
  failed: 'h-[4px] bg-fault',
  blocked: 'h-[4px] bg-ochre',
  skipped: 'h-[1px] bg-ink-2',
  open: 'h-[2px] bg-edge',
}

/** What came of a case as the stroke that every judgement is. */
export function OutcomeStroke({ outcome }: { outcome: Outcome | 'open' }) {
  return <span aria-hidden="true" className={`inline-block w-[18px] shrink-0 align-middle ${STROKE[outcome]}`} />
}
