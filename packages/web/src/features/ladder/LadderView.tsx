import type { Ladder, Stage, Tread, TreadState } from '@dystracer/core/ladder/ladder'
import type { ReactNode } from 'react'
import { EvidenceLine } from './evidence-text'

export const STAGE_NAME: Record<Stage, string> = {
  logged: 'Logged',
  accepted: 'Accepted',
  underway: 'Underway',
  'in-review': 'In review',
  merged: 'Merged',
  released: 'Released',
  verified: 'Verified',
}
const TREAD: Record<TreadState, string> = {
  proved: 'h-[3px] bg-proof',
  partial: 'h-[2px] bg-proof opacity-60',
  claimed: 'h-0 border-t-2 border-dashed border-ink-3',
  contradicted: 'h-[3px] bg-fault',
  hole: 'h-0 border-t-2 border-dashed border-fault',
  waiting: 'h-px bg-ink-3 opacity-50',
  'left-out': 'h-0',
}
const WORD: Record<TreadState, string> = {
  proved: 'evidence holds',
  partial: 'in part',
  claimed: 'claimed only',
  contradicted: 'contradicted',
  hole: 'missing',
  waiting: 'not reached',
  'left-out': 'not used here',
}
const SHOWN_MAX = 4

const DRIFT_WORD: Record<Ladder['drift'][number]['code'], (stage: string) => string> = {
  claim: (stage) => `“${stage}” is said, and no evidence shows it`,
  hole: (stage) => `“${stage}” is missing, though a later stage holds`,
  contradiction: (stage) => `evidence speaks against “${stage}”`,
}

/** Where what was said and what the evidence shows part; nothing where they agree. */
export function DriftLines({ drift, actsFor }: { drift: Ladder['drift']; actsFor?: (drift: Ladder['drift'][number]) => ReactNode }) {
  if (drift.length === 0) return null
  return (
    <ul aria-label="Where claims and evidence part" className="mx-4 my-1 list-none border-l-2 border-ochre bg-ochre-soft px-2 py-1">
      {drift.map(({ code, stage }) => (
        <li key={`${code}${stage}`}>
          {DRIFT_WORD[code](STAGE_NAME[stage])}. {actsFor?.({ code, stage })}
        </li>
      ))}
    </ul>
  )
}

/** The seven stages of an item, each with its evidence and what it waits for. */
export function LadderView({
  ladder,
  nameOf,
  actsFor,
}: {
  ladder: Ladder
  nameOf: (actor: string | null) => string
  /** What can be done about a stage, beside its evidence. */
  actsFor?: (tread: Tread) => ReactNode
}) {
  return (
    <ol aria-label="Ladder" className="m-0 list-none px-4 py-2">
      {ladder.treads.map((tread) => {
        const isReached = tread.state !== 'waiting' && tread.state !== 'left-out'
        const shown = tread.evidence.slice(-SHOWN_MAX)
        return (
          <li
            key={tread.stage}
            data-stage={tread.stage}
            data-state={tread.state}
            className={`grid grid-cols-[18px_84px_1fr] gap-x-2 py-[3px] ${isReached ? '' : 'text-ink-3'}`}
          >
            <span
              role="img"
              aria-label={WORD[tread.state]}
              title={WORD[tread.state]}
              className={`mt-[9px] w-[14px] ${TREAD[tread.state]}`}
            />
            <span className={isReached ? 'font-bold' : ''}>{STAGE_NAME[tread.stage]}</span>
            <span className="min-w-0 break-words">
              {tread.evidence.length > SHOWN_MAX && (
                <span className="block text-ink-3">{tread.evidence.length - SHOWN_MAX} more before</span>
              )}
              {shown.map((evidence) => (
                <span key={`${evidence.code}${evidence.ref?.id}${evidence.atMs}`} className="block">
                  <EvidenceLine evidence={evidence} nameOf={nameOf} />
                </span>
              ))}
              {actsFor?.(tread)}
            </span>
          </li>
        )
      })}
    </ol>
  )
}
