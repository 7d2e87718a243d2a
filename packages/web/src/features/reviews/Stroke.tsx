/** How a judgement stands. */
export type Standing = 'holds' | 'fails' | 'look' | 'open'
const LOOK: Record<Standing, string> = {
  holds: 'h-0 border-t-[3px] border-proof',
  fails: 'h-0 border-t-[3px] border-fault',
  look: 'h-0 border-t-[3px] border-ochre',
  open: 'h-0 border-t border-ink-3',
}
const WORD: Record<Standing, string> = { holds: 'holds', fails: 'does not hold', look: 'look again', open: 'nobody has yet' }

/** The tread of the stair as the mark of any judgement. */
export function Stroke({ standing }: { standing: Standing }) {
  return <span role="img" aria-label={WORD[standing]} title={WORD[standing]} className={`mt-[9px] w-[18px] shrink-0 ${LOOK[standing]}`} />
}
