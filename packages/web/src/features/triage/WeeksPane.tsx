import { PUT_RIGHT, type TriageWeeks } from '@dystracer/core/triage/wire'
import { DECISIONS, TRIAGE_SOURCES } from '@dystracer/core/triage/decision'
import { useState } from 'react'
import { useTriageWeeksQuery } from './triage.api'
import { usePeople } from '#features/people/index'
import { Choose } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { Pending, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { DISPOSITION_CHOICES } from '#features/rejecting/index'
import { SOURCE_PHRASE } from './reason-text'

type Week = TriageWeeks['rows'][number]
type Example = TriageWeeks['examples'][number]
const DECISION_WORD = { accept: 'accepted', 'same-as': 'same as another', ask: 'asked', reject: 'rejected' } as const
const FIELD_WORD = {
  severity: 'severity',
  ownerId: 'owner',
  component: 'component',
  milestone: 'milestone',
  requirement: 'requirement',
  sameAs: 'same as',
} as const

/**
 * How deciding went, week by week: what came in and from where, how long it waited, what was rejected and why, which proposals and rules
 * were right.
 */
export function WeeksPane() {
  const project = usePeople().me?.project.prefix ?? ''
  const [weeks, setWeeks] = useState('8')
  const { data, error, isLoading } = useTriageWeeksQuery({ project, weeks: Number(weeks) }, { skip: project === '' })
  return (
    <Pane
      label="Weeks of deciding"
      title="Weeks of deciding"
      aside={
        <Choose
          aria-label="How many weeks"
          className="w-auto! border-0! py-0.5!"
          value={weeks}
          choices={['4', '8', '26'].map((value) => ({ value, label: `${value} weeks` }))}
          onChange={(event) => setWeeks(event.target.value)}
        />
      }
    >
      <Pending error={error} isLoading={isLoading} />
      {data && (
        <div className="space-y-4 px-4 py-3">
          <WeekTable weeks={data.rows} />
          <Fared weeks={data.rows} />
          <PutRight weeks={data.rows} examples={data.examples} />
          <section aria-label="Routing rules">
            <SectionHead>Routing rules</SectionHead>
            {data.rules.length === 0 && <p className="text-ink-2">No rule has been set up.</p>}
            {data.rules.length > 0 && (
              <table className="w-full text-left">
                <thead>
                  <tr className="text-[12px] text-ink-3">
                    <th className="font-normal">Rule</th>
                    <th className="text-right font-normal">set something</th>
                    <th className="text-right font-normal">changed by people since</th>
                  </tr>
                </thead>
                <tbody>
                  {data.rules.map((rule) => (
                    <tr key={rule.ruleId} className="border-b border-edge-soft">
                      <td className="py-0.5">{rule.name}</td>
                      <td className="text-right">{rule.set}</td>
                      <td className={`text-right ${rule.changedSince * 2 > rule.set ? 'font-bold text-fault' : ''}`}>
                        {rule.changedSince}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
          </section>
        </div>
      )}
    </Pane>
  )
}

/** A row per kind of thing, a column per week, the newest on the left. */
function WeekTable({ weeks }: { weeks: readonly Week[] }) {
  const rows: { head?: string; label: string; cells: (number | string)[] }[] = [
    { label: 'came in', cells: weeks.map((week) => sum(week.cameIn)) },
    ...TRIAGE_SOURCES.filter((source) => source !== 'came-back' && weeks.some((week) => week.cameIn[source])).map((source) => ({
      label: `· ${SOURCE_PHRASE[source]}`,
      cells: weeks.map((week) => week.cameIn[source] ?? 0),
    })),
    { label: 'decided', cells: weeks.map((week) => sum(week.decided)) },
    ...DECISIONS.map((decision) => ({ label: `· ${DECISION_WORD[decision]}`, cells: weeks.map((week) => week.decided[decision] ?? 0) })),
    ...DISPOSITION_CHOICES.filter(({ value }) => weeks.some((week) => week.rejected[value])).map(({ value, label }) => ({
      label: `  · ${label}`,
      cells: weeks.map((week) => week.rejected[value] ?? 0),
    })),
    { label: '· taken back', cells: weeks.map((week) => week.undone) },
    { label: 'waited, half of them', cells: weeks.map((week) => span(week.waitedMedianMs)) },
    { label: 'waited, nine of ten', cells: weeks.map((week) => span(week.waitedP90Ms)) },
  ]
  return (
    <section aria-label="Week by week" className="overflow-x-auto">
      <table className="w-full text-right">
        <thead>
          <tr className="text-[12px] text-ink-3">
            <th className="text-left font-normal">week from</th>
            {weeks.map((week) => (
              <th key={week.weekOn} className="pl-3 font-normal whitespace-nowrap">
                {week.weekOn.slice(5)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.label} className={`border-b border-edge-soft ${row.label.includes('·') ? 'text-ink-2' : 'font-bold'}`}>
              <th scope="row" className="py-0.5 text-left font-[inherit] whitespace-pre">
                {row.label}
              </th>
              {row.cells.map((cell, index) => (
                <td key={weeks[index]?.weekOn} className={cell === 0 || cell === '–' ? 'text-ink-3' : ''}>
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

/** How often the first proposal of each field was taken, over all weeks shown. */
function Fared({ weeks }: { weeks: readonly Week[] }) {
  const fields = (weeks[0]?.proposals ?? []).map(({ field }) => {
    const taken = weeks.reduce((total, week) => total + (week.proposals.find((row) => row.field === field)?.taken ?? 0), 0)
    const changed = weeks.reduce((total, week) => total + (week.proposals.find((row) => row.field === field)?.changed ?? 0), 0)
    return { field, taken, total: taken + changed }
  })
  return (
    <section aria-label="Proposals">
      <SectionHead>First proposals taken</SectionHead>
      {fields.every((row) => row.total === 0) && <p className="text-ink-2">No decision with proposals yet.</p>}
      <ul className="m-0 list-none p-0">
        {fields
          .filter((row) => row.total > 0)
          .map((row) => (
            <li key={row.field} className="flex items-center gap-3 py-0.5">
              <span className="w-[90px]">{FIELD_WORD[row.field]}</span>
              <span aria-hidden="true" className="h-[6px] w-[160px] bg-edge-soft">
                <span className="block h-full bg-proof" style={{ width: `${(100 * row.taken) / row.total}%` }} />
              </span>
              {row.taken} of {row.total}
            </li>
          ))}
      </ul>
    </section>
  )
}

const PUT_RIGHT_WORD: Record<Example['what'], string> = {
  'faults-joined': 'faults that were one',
  'faults-parted': 'a fault that was two',
  'joining-undone': 'joined by mistake',
  'same-as': 'items that were the same',
  'item-parted': 'items that were not the same',
  'severity-set': 'severity set otherwise',
}

/** Where grouping and guessing were wrong and people said so: how often in the weeks shown, with the newest cases to look into. */
function PutRight({ weeks, examples }: { weeks: readonly Week[]; examples: readonly Example[] }) {
  const { nameOf } = usePeople()
  const kinds = PUT_RIGHT.filter((what) => weeks.some((week) => week.putRight[what]))
  return (
    <section aria-label="Put right by people">
      <SectionHead>Put right by people</SectionHead>
      {kinds.length === 0 && <p className="text-ink-2">Nothing that was found by itself was put right.</p>}
      {kinds.map((what) => (
        <div key={what} className="py-1">
          <h4 className="m-0 text-[14px]">
            {PUT_RIGHT_WORD[what]}{' '}
            <span className="font-normal">{weeks.reduce((total, week) => total + (week.putRight[what] ?? 0), 0)}</span>
          </h4>
          <ul className="m-0 list-none p-0 text-[12px] text-ink-2" aria-label={PUT_RIGHT_WORD[what]}>
            {examples
              .filter((example) => example.what === what)
              .map(({ atMs, by, from, to }) => (
                <li key={`${atMs} ${from.id}`} className="py-0.5">
                  <ThingLink to={from} />
                  {to && (
                    <>
                      {' '}
                      and <ThingLink to={to} />
                    </>
                  )}
                  , {nameOf(by)}, <When atMs={atMs} />
                </li>
              ))}
          </ul>
        </div>
      ))}
    </section>
  )
}

function sum(counts: Record<string, number>): number {
  return Object.values(counts).reduce((total, count) => total + count, 0)
}

function span(ms: number | null): string {
  if (ms === null) return '–'
  const hours = ms / 3_600_000
  return hours < 1 ? `${Math.round(ms / 60_000)} min` : hours < 48 ? `${Math.round(hours)} h` : `${Math.round(hours / 24)} d`
}
