import { STAGES, statesOfStair, type TreadState } from '@dystracer/core/ladder/ladder'

const NAME: Record<string, string> = {
  logged: 'logged',
  accepted: 'accepted',
  underway: 'underway',
  'in-review': 'in review',
  merged: 'merged',
  released: 'released',
  verified: 'verified',
}
const WORD: Record<TreadState, string> = {
  proved: '',
  claimed: ' claimed',
  partial: ' in part',
  contradicted: ' contradicted',
  hole: ' missing',
  waiting: '',
  'left-out': '',
}
const COLOUR: Record<TreadState, string> = {
  proved: 'var(--proof)',
  claimed: 'var(--ink-3)',
  partial: 'var(--proof)',
  contradicted: 'var(--fault)',
  hole: 'var(--fault)',
  waiting: 'var(--edge)',
  'left-out': 'transparent',
}

/** The ladder as a small picture: seven treads, each a step higher; those not reached lie at the foot. */
export function Stair({ stair, isRejected = false, hasComeBack = false }: { stair: string; isRejected?: boolean; hasComeBack?: boolean }) {
  const states = statesOfStair(stair)
  const top = states.findLastIndex((state) => state !== 'waiting' && state !== 'left-out')
  const notes = STAGES.flatMap((stage, index) =>
    WORD[states[index] ?? 'waiting'] ? [`${NAME[stage]}${WORD[states[index] ?? 'waiting']}`] : [],
  )
  const label = `${isRejected ? 'rejected' : NAME[STAGES[Math.max(0, top)] ?? 'logged']}${
    hasComeBack ? ', came back' : ''
  }${notes.length > 0 ? ` (${notes.join(', ')})` : ''}`
  return (
    <svg
      role="img"
      aria-label={label}
      width="56"
      height="20"
      viewBox="0 0 56 20"
      className={isRejected ? 'shrink-0 opacity-40' : 'shrink-0'}
    >
      <title>{label}</title>
      {states.map((state, index) => {
        const isUp = index <= top
        const y = isUp ? 17 - index * 2.3 : 18
        const colour = index === top && hasComeBack ? 'var(--fault)' : COLOUR[state]
        return (
          <g key={STAGES[index]}>
            {isUp && index > 0 && <line x1={index * 8} x2={index * 8} y1={y + 2.3} y2={y} stroke={colour} strokeWidth="1" />}
            <line
              x1={index * 8}
              x2={index * 8 + 7.5}
              y1={y}
              y2={y}
              stroke={colour}
              strokeWidth={state === 'waiting' ? 1 : state === 'partial' || state === 'claimed' ? 1.5 : 2.6}
              strokeDasharray={state === 'claimed' || state === 'hole' ? '2 1.5' : undefined}
            />
          </g>
        )
      })}
    </svg>
  )
}
