import type { RuleRecord } from '@dystracer/core/faults/intake-wire'
import type { ReactNode } from 'react'
import { plural } from '#shared/lib/format'
import { Button, SectionHead, When } from '#shared/ui/parts'
import { FiredLines } from './FiredLines'
import type { RuleForm } from './rule-form'

type Ask = { name: 'peopleAtLeast' | 'countAtLeast'; atLeast: RuleForm['peopleAtLeast'] }

/** What a rule did so far, what people did with that week by week, and what it could ask for so that less is rejected. */
export function RuleRecordPart({ record, onAsk }: { record: RuleRecord; onAsk: ((ask: Ask) => void) | null }) {
  const { taken, rejected, waiting, rows, sinceMs, proposal } = record
  const logged = taken + rejected + waiting
  const isByPeople = proposal?.what === 'people'
  const atLeast = isByPeople ? plural(proposal.atLeast, 'person', 'people') : plural(proposal?.atLeast ?? 0, 'time')
  if (sinceMs === null) return <Section>It has done nothing yet.</Section>
  return (
    <Section>
      <p>
        Since <When atMs={sinceMs} /> it logged {logged}
        {logged > 0 && `: ${taken} taken, ${rejected} rejected, ${waiting} not decided`}.
        {taken + rejected > 0 && ` Of what was decided, ${Math.round((100 * taken) / (taken + rejected))} % was taken.`}
      </p>
      {taken + rejected > 0 && <Weeks weeks={record.weeks} />}
      {proposal && (
        <p className="text-ink-2">
          {proposal.rejectedAvoided} of {plural(proposal.rejected, 'rejected one')} {isByPeople ? 'hit' : 'came'} fewer than {atLeast}; so
          did {proposal.takenLost} of the {proposal.taken} taken.{' '}
          {onAsk && (
            <Button look="line" onClick={() => onAsk({ name: isByPeople ? 'peopleAtLeast' : 'countAtLeast', atLeast: proposal.atLeast })}>
              What if it asked for {proposal.atLeast}?
            </Button>
          )}
        </p>
      )}
      <div className="mt-1 border-t border-edge-soft">
        <FiredLines label="What it did" rows={rows} stroke="holds" />
      </div>
    </Section>
  )
}

function Section({ children }: { children: ReactNode }) {
  return (
    <section aria-label="So far" className="border-t border-edge px-4 py-3">
      <SectionHead>So far</SectionHead>
      {children}
    </section>
  )
}

const STEP_PX = 4
const HALF_PX = 20

/** Week by week a stroke up for each item that was taken, one down for each that was rejected. */
function Weeks({ weeks }: { weeks: RuleRecord['weeks'] }) {
  const most = Math.max(1, ...weeks.flatMap((week) => [week.taken, week.rejected]))
  const scale = Math.min(STEP_PX, HALF_PX / most)
  const words = weeks.map((week) => `${week.taken} taken, ${week.rejected} rejected`).join('; ')
  return (
    <svg
      role="img"
      aria-label={`By week, the oldest first: ${words}`}
      width={weeks.length * 20}
      height={2 * HALF_PX + 1}
      className="my-1 block"
    >
      <path d={`M0 ${HALF_PX + 0.5}H${weeks.length * 20}`} stroke="var(--edge)" />
      {weeks.map((week, at) => (
        <g key={week.fromMs}>
          <title>
            {`week of ${new Date(week.fromMs).toLocaleDateString()}: ${week.taken} taken, ${week.rejected} rejected, ` +
              `${week.waiting} not decided`}
          </title>
          <rect x={at * 20 + 2} width="12" y={HALF_PX - week.taken * scale} height={week.taken * scale} fill="var(--proof)" />
          <rect x={at * 20 + 2} width="12" y={HALF_PX + 1} height={week.rejected * scale} fill="var(--fault)" />
        </g>
      ))}
    </svg>
  )
}
