import type { AuditRhythm, KeptReport } from '@dystracer/core/audits/wire'
import { lazy, Suspense } from 'react'
import { useForm } from 'react-hook-form'
import { usePeople } from '#features/people/index'
import { plural, shortDate } from '#shared/lib/format'
import { addressAt } from '#shared/lib/past'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { Choose, TextInput } from '#shared/ui/fields'
import { Button, Pending, Quiet, Refusal, SectionHead } from '#shared/ui/parts'
import { useKeepReportMutation, useKeptReportsQuery, useScheduleReportsMutation } from './audits.api'

const LineChart = lazy(() => import('#shared/charts/LineChart').then((module) => ({ default: module.LineChart })))
const FORMS = [
  ['html', 'page'],
  ['pdf', 'PDF'],
  ['csv', 'CSV'],
  ['json', 'JSON'],
] as const
const RHYTHMS: { value: AuditRhythm; label: string }[] = [
  { value: 'never', label: 'only by hand' },
  { value: 'week', label: 'each week' },
  { value: 'month', label: 'each month' },
]
/** A line of two points says nothing. */
const CHARTED_MIN = 3

/** Reports for audits that are kept: each as of its moment, and how the open gaps went on from one to the next. */
export function KeptReports({ project, canKeep }: { project: string; canKeep: boolean }) {
  const { data, error, isLoading } = useKeptReportsQuery(project)
  const [schedule] = useScheduleReportsMutation()
  const rows = data?.rows ?? []
  const inTime = [...rows].reverse()
  return (
    <section aria-label="Kept reports" className="border-t border-edge px-4 py-3">
      <SectionHead>Reports for audits that are kept</SectionHead>
      <Pending error={error} isLoading={isLoading} />
      {canKeep && data && (
        <p>
          One is kept{' '}
          <Choose
            aria-label="How often a report is kept"
            className="inline-block! w-auto! py-0.5!"
            value={data.every}
            choices={RHYTHMS}
            onChange={({ target }) => void schedule({ project, every: target.value }).then(tellRefusal)}
          />
        </p>
      )}
      {data && rows.length === 0 && <Quiet>None is kept yet. A kept report reads as it did then, whenever it is opened.</Quiet>}
      {inTime.length >= CHARTED_MIN && (
        <Suspense fallback={null}>
          <LineChart
            label="Open gaps, from report to report"
            labels={inTime.map(({ at }) => shortDate(Date.parse(at)))}
            values={inTime.map(({ figures }) => figures.gaps)}
            onPick={(at) => {
              const picked = inTime[at]
              if (picked) window.location.assign(addressAt(Date.parse(picked.at), '/requirements~gaps'))
            }}
          />
        </Suspense>
      )}
      <ul aria-label="Kept reports" className="m-0 list-none p-0">
        {rows.map((row) => (
          <Line key={row.at} project={project} row={row} />
        ))}
      </ul>
      {canKeep && <Keep project={project} />}
    </section>
  )
}

function Line({ project, row: { at, words, by, figures } }: { project: string; row: KeptReport }) {
  const { nameOf } = usePeople()
  const atMs = Date.parse(at)
  return (
    <li className="border-b border-edge-soft py-1">
      <b>{shortDate(atMs)}</b> {words} {by !== 'system' && <span className="text-ink-2">by {nameOf(by)}</span>}
      <span className="block">
        {figures.states.proved} of {plural(figures.requirements, 'requirement')} proved, {plural(figures.gaps, 'open gap')}
      </span>
      <span className="text-[12px]">
        {FORMS.map(([form, name], index) => (
          <span key={form}>
            {index > 0 && ', '}
            <a
              className="link"
              href={`/api/past/${at}/v1/projects/${encodeURIComponent(project)}/audit-report.${form}`}
              aria-label={`${name} of ${shortDate(atMs)}`}
              target="_blank"
              rel="noreferrer"
            >
              {name}
            </a>
          </span>
        ))}
        {' · '}
        <a className="link" href={addressAt(atMs, '/requirements~gaps')}>
          look back to it
        </a>
      </span>
    </li>
  )
}

function Keep({ project }: { project: string }) {
  const [keep, { error, isLoading }] = useKeepReportMutation()
  const { register, handleSubmit, reset } = useForm({ defaultValues: { words: '' } })
  const submit = handleSubmit(async ({ words }) => {
    const result = await keep({ project, words })
    if (!result.error) reset()
  })
  return (
    <form aria-label="Keep a report" className="mt-2 flex items-center gap-2" onSubmit={(event) => void submit(event)}>
      <TextInput aria-label="What it is for" placeholder="what it is for" maxLength={500} {...register('words')} />
      <Button type="submit" className="shrink-0" disabled={isLoading}>
        Keep one now
      </Button>
      <Refusal error={error} />
    </form>
  )
}
