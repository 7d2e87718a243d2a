import type { Delivery } from '@dystracer/core/releases/delivery-wire'
import { useMemo, useState } from 'react'
import { axisDate, plural } from '#shared/lib/format'
import { segmentOf } from '#shared/lib/trail'
import { BarChart, type BarSeries } from '#shared/charts/BarChart'
import { Choose } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { PaneLink } from '#shared/ui/PaneLink'
import { Pending, Quiet, SectionHead, When } from '#shared/ui/parts'
import { useDeliveryQuery } from './releases.api'

type Figures = Delivery['rows'][number]
type Durations = NonNullable<Figures['restore']>

const TIMES = { '30': 'in 30 days', '90': 'in 90 days', '365': 'in a year', '730': 'in two years' } as const
const DAY_MS = 86_400_000
const HOUR_MS = 3_600_000

/** How well is delivered: from evidence alone, each figure with what it means and the cases that stand out. */
export function FiguresPane() {
  const [days, setDays] = useState<keyof typeof TIMES>('90')
  const [service, setService] = useState('')
  const { data, error, isLoading } = useDeliveryQuery(Number(days))
  const services = data?.rows.flatMap((row) => row.service ?? []) ?? []
  const row = data?.rows.find((one) => (one.service ?? '') === service) ?? data?.rows[0]
  return (
    <Pane
      label="Figures"
      title="Figures"
      aside={
        <>
          <Choose
            aria-label="Of which service"
            className="w-auto! py-0.5!"
            none="all services"
            value={service}
            choices={services.map((name) => ({ value: name, label: name }))}
            onChange={({ target }) => setService(target.value)}
          />
          <Choose
            aria-label="In which time"
            className="w-auto! py-0.5!"
            value={days}
            choices={(Object.keys(TIMES) as (keyof typeof TIMES)[]).map((value) => ({ value, label: TIMES[value] }))}
            onChange={({ target }) => setDays(target.value)}
          />
        </>
      }
    >
      <Pending error={error} isLoading={isLoading} />
      {row && row.deployments === 0 && (
        <Quiet>
          Nothing went to production in this time. What a deployer, events or{' '}
          <span
            className="font-mono
            text-[12px]"
          >
            dys deployed
          </span>{' '}
          tell is counted here.
        </Quiet>
      )}
      {row && row.deployments > 0 && <FiguresOf row={row} />}
    </Pane>
  )
}

function FiguresOf({ row }: { row: Figures }) {
  const { failures } = row
  return (
    <div className="px-4 py-3">
      <div className="grid grid-cols-2 gap-x-8 gap-y-5">
        <Figure
          name="To production"
          value={row.perWeek >= 1 ? row.perWeek.toFixed(1) : (row.perWeek * (30.4375 / 7)).toFixed(1)}
          unit={row.perWeek >= 1 ? 'deployments a week' : 'deployments a month'}
          meaning={`${plural(row.deployments, 'deployment')} that began to run in production, or failed on the way there.`}
        />
        <Figure
          name="Failed or taken back"
          value={failures === null ? '–' : `${Math.round(failures.share * 100)} %`}
          unit={failures === null ? '' : `${failures.count} of ${failures.of}`}
          meaning={`Deployments that failed, or whose place an older release took${
            failures === null
              ? ''
              : `; by so few cases the share lies between ${Math.round(failures.from * 100)} and ${Math.round(failures.to * 100)} %`
          }.`}
        />
        <Taking
          name="From commit to production"
          durations={row.commitLead}
          kind="commit"
          meaning="From when a commit was made until it first ran in production."
        />
        <Taking
          name="From report to production"
          durations={row.itemLead}
          kind="item"
          meaning="From when an item was logged until the last part of its fix ran in production."
        />
        <Taking
          name="Until it is put right"
          durations={row.restore}
          kind="release"
          meaning="From a deployment that failed or was taken back until another release ran there."
        />
      </div>
      <Weeks row={row} />
    </div>
  )
}

function Figure({
  name,
  value,
  unit,
  meaning,
  children,
}: {
  name: string
  value: string
  unit: string
  meaning: string
  children?: React.ReactNode
}) {
  return (
    <section aria-label={name}>
      <SectionHead>{name}</SectionHead>
      <p className="m-0 leading-none">
        <span className="text-[30px]">{value}</span> <span className="text-ink-2">{unit}</span>
      </p>
      <p className="mt-1 mb-0 text-[12px] text-ink-2">{meaning}</p>
      {children}
    </section>
  )
}

/** A duration in the unit in which one would say it. */
function inWords(ms: number): [value: string, unit: string] {
  if (ms >= 2 * DAY_MS) return [(ms / DAY_MS).toFixed(ms >= 20 * DAY_MS ? 0 : 1), 'days']
  if (ms >= HOUR_MS) return [(ms / HOUR_MS).toFixed(ms >= 20 * HOUR_MS ? 0 : 1), 'hours']
  return [String(Math.max(0, Math.round(ms / 60_000))), 'minutes']
}

/** How long something takes: the middle, what 85 of 100 stay below, and the longest with links to them. */
function Taking({
  name,
  durations,
  kind,
  meaning,
}: {
  name: string
  durations: Durations | null
  kind: 'commit' | 'item' | 'release'
  meaning: string
}) {
  if (durations === null) return <Figure name={name} value="–" unit="" meaning={`${meaning} There was none.`} />
  const [value, unit] = inWords(durations.medianMs)
  const [most, mostUnit] = inWords(durations.p85Ms)
  return (
    <Figure
      name={name}
      value={value}
      unit={`${unit} in the middle, ${most} ${mostUnit} for 85 of 100`}
      meaning={`${meaning} ${durations.count} counted.`}
    >
      <details className="text-[12px]">
        <summary className="link">the longest</summary>
        <ul className="m-0 list-none p-0">
          {durations.longest.map(({ id, ms }) => (
            <li key={id}>
              <PaneLink to={segmentOf({ kind, id })}>{kind === 'commit' ? id.slice(id.indexOf('/') + 1).slice(0, 7) : id}</PaneLink>{' '}
              {inWords(ms).join(' ')}
            </li>
          ))}
        </ul>
      </details>
    </Figure>
  )
}

function Weeks({ row: { weeks } }: { row: Figures }) {
  const drawn = useMemo(
    () => ({
      labels: weeks.map(({ atMs }) => axisDate(atMs, { fromMs: weeks[0]?.atMs ?? 0, toMs: weeks.at(-1)?.atMs ?? 0 })),
      series: [
        { values: weeks.map(({ deployments, bad }) => deployments - bad), colour: '--proof' },
        { values: weeks.map(({ bad }) => bad), colour: '--fault' },
      ] satisfies BarSeries[],
    }),
    [weeks],
  )
  return (
    <section aria-label="By week" className="mt-5">
      <SectionHead>Deployments by week, failed or taken back in copper</SectionHead>
      <BarChart label="Deployments by week" {...drawn} />
      <details className="text-[12px]">
        <summary className="link">as a table</summary>
        <table>
          <thead>
            <tr>
              <th className="pr-4 text-left font-normal">week of</th>
              <th className="pr-4 text-left font-normal">deployments</th>
              <th className="text-left font-normal">failed or taken back</th>
            </tr>
          </thead>
          <tbody>
            {weeks
              .filter(({ deployments }) => deployments > 0)
              .map(({ atMs, deployments, bad }) => (
                <tr key={atMs}>
                  <td className="pr-4">
                    <When atMs={atMs} />
                  </td>
                  <td className="pr-4">{deployments}</td>
                  <td>{bad}</td>
                </tr>
              ))}
          </tbody>
        </table>
      </details>
    </section>
  )
}
