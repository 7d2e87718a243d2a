import { usePeople } from '#features/people/index'
import { type FaultsArgs, useFaultQuery, useFaultsInfiniteQuery, useOccurrencesQuery, useServicesQuery } from './faults.api'
import type { Fault, FaultDetail } from '@dystracer/core/faults/wire'
import { type KeyboardEvent, lazy, Suspense, useState } from 'react'
import { useReleasesQuery } from '#features/releases/releases.api'
import { toChoices } from '#shared/lib/choices'
import { plural } from '#shared/lib/format'
import { actionOf } from '#shared/lib/keys'
import { useDelayed } from '#shared/lib/use-delayed'
import { usePages } from '#shared/lib/use-pages'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Choose, TextInput } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { Button, Initials, Pending, Quiet, SectionHead, When } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { Stair } from '#shared/ui/Stair'
import { ThingLink } from '#shared/ui/ThingLink'
import { BroughtInBy } from './BroughtInBy'
import { Alike, WhyOne } from './FaultGrouping'
import type { ReleaseMark } from './OccurrenceChart'
import { ChosenFaults, FaultDeeds } from './FaultDeeds'
import { FaultEvidence } from './FaultEvidence'
import { STATE_TONE, STATE_WORD } from './state-words'
import { UnusualTable } from './UnusualTable'
import { useFaultActs } from './use-fault-acts'

const OccurrenceChart = lazy(() => import('./OccurrenceChart').then((module) => ({ default: module.OccurrenceChart })))

const SORTS = [
  { value: 'last', label: 'last seen first' },
  { value: 'first', label: 'newest first' },
  { value: 'times', label: 'most often first' },
  { value: 'people', label: 'most people first' },
]
const TIED = [
  { value: 'none', label: 'without an item' },
  { value: 'some', label: 'with an item' },
]

interface Asked {
  q: string
  sort: NonNullable<FaultsArgs['sort']>
  service: string
  release: string
  environment: string
  item: NonNullable<FaultsArgs['item']> | ''
  state: NonNullable<FaultsArgs['state']> | ''
}

const STATES = [...Object.entries(STATE_WORD).map(([value, label]) => ({ value, label })), { value: 'any', label: 'all, also set aside' }]

/** Runtime problems, each a group of occurrences with one cause. */
export function FaultsPane() {
  const [asked, setAsked] = useState<Asked>({ q: '', sort: 'last', service: '', release: '', environment: '', item: '', state: '' })
  const q = useDelayed(asked.q, 150)
  const asking = useFaultsInfiniteQuery({
    q,
    sort: asked.sort,
    ...(asked.service && { service: asked.service }),
    ...(asked.service && asked.release && { release: asked.release }),
    ...(asked.environment && { environment: asked.environment }),
    ...(asked.item && { item: asked.item }),
    ...(asked.state && { state: asked.state }),
  })
  const { rows, onNearEnd, data, error, isLoading } = usePages(asking)
  const { data: services } = useServicesQuery()
  const { data: board } = useReleasesQuery()
  const trail = usePaneTrail()
  const chosen = useChosenFaults(rows)
  const marked = rows.filter((row) => chosen.faults.has(row.fault))
  const choose = (
    name: 'service' | 'release' | 'environment' | 'item' | 'state' | 'sort',
    label: string,
    none: string | undefined,
    choices: { value: string; label: string }[],
  ) => (
    <Choose
      aria-label={label}
      className="w-auto! max-w-[150px] border-0! py-0.5! text-[12px]"
      {...(none !== undefined && { none })}
      value={asked[name]}
      choices={choices}
      // A release belongs to one service.
      onChange={(event) => setAsked({ ...asked, ...(name === 'service' && { release: '' }), [name]: event.target.value })}
    />
  )
  return (
    <Pane
      label="Faults"
      title="Faults"
      aside={
        <>
          <Button look="line" onClick={() => trail.open({ kind: 'connect', id: '' })}>
            Connect…
          </Button>
          {choose('sort', 'Order', undefined, SORTS)}
        </>
      }
    >
      <div className="flex h-full flex-col">
        <div className="flex flex-wrap items-center border-b border-edge px-3 py-1">
          <TextInput
            aria-label="Find faults"
            placeholder="message, function or service"
            value={asked.q}
            onChange={(event) => setAsked({ ...asked, q: event.target.value })}
            className="w-auto! min-w-[120px] flex-1 border-0! px-0! py-1!"
          />
          {choose('service', 'Service', 'all services', toChoices(services?.rows.map((row) => row.service) ?? []))}
          {asked.service &&
            choose(
              'release',
              'Release',
              'all releases',
              toChoices(services?.rows.find((row) => row.service === asked.service)?.releases ?? []),
            )}
          {choose('environment', 'Environment', 'everywhere', toChoices(board?.environments.map((row) => row.environment) ?? []))}
          {choose('item', 'Item', 'with or without item', TIED)}
          {choose('state', 'State', 'not set aside', STATES)}
        </div>
        {marked.length > 0 && <ChosenFaults chosen={marked} onNone={chosen.clear} />}
        <Pending error={error} isLoading={isLoading} />
        {data && rows.length === 0 && (
          <Quiet>
            {asked.q || asked.service || asked.environment || asked.item || asked.state
              ? 'No fault fits. Take a condition away.'
              : 'No fault has been received. “Connect…” says how a program sends its errors here.'}
          </Quiet>
        )}
        <div className="min-h-0 flex-1">
          {rows.length > 0 && (
            <RowList
              label="Faults"
              rows={rows}
              rowHeightPx={48}
              idOf={(row) => row.fault}
              selectedId={trail.next?.kind === 'fault' ? trail.next.id : null}
              onNearEnd={onNearEnd}
              onKey={chosen.onKey}
              onShow={(row, isStep) => trail.open({ kind: 'fault', id: row.fault }, { isStep })}
              renderRow={(row) => <FaultRow fault={row} isChosen={chosen.faults.has(row.fault)} />}
            />
          )}
        </div>
      </div>
    </Pane>
  )
}

function FaultRow({ fault, isChosen }: { fault: Fault; isChosen: boolean }) {
  const { initialsOf, nameOf } = usePeople()
  return (
    <div className="@container flex min-w-0 flex-1 items-center gap-3 py-1">
      <span className="w-[40px] shrink-0 font-mono text-[12px] text-ink-2">
        {isChosen && (
          <span role="img" aria-label="chosen" className="text-proof">
            ▪
          </span>
        )}
        {fault.fault}
      </span>
      <span className="min-w-0 flex-1">
        <span className="block truncate font-medium">
          {fault.type}: {fault.message}
        </span>
        <span className="block truncate text-[12px] text-ink-2">
          {fault.state !== 'continuing' && <b className={`mr-1.5 ${STATE_TONE[fault.state] ?? 'text-ink-2'}`}>{STATE_WORD[fault.state]}</b>}
          {[
            fault.service,
            fault.environments.join(', '),
            fault.releases.join(', '),
            fault.peopleHit > 0 ? plural(fault.peopleHit, 'person', 'people') : '',
          ]
            .filter(Boolean)
            .join(' · ')}
        </span>
      </span>
      {fault.ownerId && <Initials text={initialsOf(fault.ownerId)} name={nameOf(fault.ownerId)} />}
      <Days counts={fault.recent} />
      <span className="w-[56px] shrink-0 text-[12px] text-ink-3">
        {fault.item ? <Stair stair={fault.item.stair} hasComeBack={fault.item.hasComeBack} /> : 'no item'}
      </span>
      <span className="w-[44px] shrink-0 text-right font-bold text-fault">{fault.occurrences} ×</span>
      <span className="w-[64px] shrink-0 text-right text-[12px] whitespace-nowrap text-ink-3 @min-[640px]:w-[104px]">
        <span className="block">
          <When atMs={fault.lastSeenAtMs} />
        </span>
        {fault.occurrences > 1 && (
          <span className="hidden @min-[640px]:block">
            since <When atMs={fault.firstSeenAtMs} />
          </span>
        )}
      </span>
    </div>
  )
}

/** Faults that were chosen to do something with all of them, and the keys of that. */
function useChosenFaults(rows: readonly Fault[]) {
  const [faults, setFaults] = useState<ReadonlySet<string>>(new Set())
  const { takeBack } = useFaultActs()
  const onKey = (event: KeyboardEvent, row: Fault | undefined, step: (to: Fault) => void) => {
    switch (actionOf('faults', event)) {
      case 'choose':
        if (!row) return false
        setFaults((before) => new Set(before.has(row.fault) ? [...before].filter((one) => one !== row.fault) : [...before, row.fault]))
        return true
      case 'extend': {
        if (!row) return false
        const other = rows[rows.indexOf(row) + (event.key === 'ArrowDown' ? 1 : -1)]
        setFaults((before) => new Set([...before, row.fault, ...(other ? [other.fault] : [])]))
        if (other) step(other)
        return true
      }
      case 'undo':
        void takeBack()
        return true
      default:
        return false
    }
  }
  return { faults, onKey, clear: () => setFaults(new Set()) }
}

/** Fourteen days in fourteen strokes, today last; nothing is drawn where nothing happened. */
function Days({ counts }: { counts: readonly number[] }) {
  const most = Math.max(1, ...counts)
  const total = counts.reduce((sum, count) => sum + count, 0)
  return (
    <svg
      role="img"
      aria-label={`${plural(total, 'time')} in fourteen days`}
      width="56"
      height="18"
      viewBox="0 0 56 18"
      className="shrink-0"
    >
      <path d="M0 17.5H56" stroke="var(--edge)" />
      {counts.map((count, day) => {
        const height = count === 0 ? 0 : Math.max(2, (count / most) * 16)
        // biome-ignore lint/suspicious/noArrayIndexKey: a day is its place
        return <rect key={day} x={day * 4} y={17 - height} width="3" height={height} fill="var(--fault)" />
      })}
    </svg>
  )
}

export function FaultPane({ id }: { id: string }) {
  const { data, error, isLoading } = useFaultQuery(id)
  const trail = usePaneTrail()
  if (!data)
    return (
      <Pane label={id} title={id}>
        <Pending error={error} isLoading={isLoading} />
      </Pane>
    )
  return (
    <Pane
      label={data.fault}
      title={
        <>
          <span className="font-mono text-[13px] font-normal">{data.fault}</span> {data.type}
          {data.place && ` in ${data.place.split('@')[0]}`}
        </>
      }
      aside={
        <Button look="text" onClick={() => trail.open({ kind: 'thread', id: `fault:${data.fault}` })}>
          thread
        </Button>
      }
    >
      <FaultDeeds fault={data} />
      <FaultEvidence fault={id} />
      <BroughtInBy fault={data.fault} service={data.service} />
      <UnusualTable fault={data.fault} />
      <div className="border-t border-edge px-4 py-3">
        <SectionHead>When</SectionHead>
        <Suspense fallback={<div className="h-[110px]" />}>
          <OccurrenceChart byMinute={data.byMinute} releases={firstSeen(data)} />
        </Suspense>
      </div>
      <div className="border-t border-edge px-4 py-3">
        <SectionHead>Releases and environments</SectionHead>
        <table className="w-full text-left">
          <thead className="text-[12px] text-ink-3">
            <tr>
              <th className="font-normal">release</th>
              <th className="font-normal">environment</th>
              <th className="font-normal">first</th>
              <th className="font-normal">last</th>
              <th className="text-right font-normal">times</th>
            </tr>
          </thead>
          <tbody>
            {data.byRelease.map((row) => (
              <tr key={`${row.release}${row.environment}`} className="h-6 border-t border-edge-soft">
                <td>
                  {row.release ? (
                    <ThingLink to={{ kind: 'release', id: `${data.service}@${row.release}` }}>{row.release}</ThingLink>
                  ) : (
                    'not told'
                  )}
                </td>
                <td>{row.environment}</td>
                <td>
                  <When atMs={row.firstAtMs} />
                </td>
                <td>
                  <When atMs={row.lastAtMs} />
                </td>
                <td className="text-right">{row.count}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <WhyOne fault={data} />
      <Alike fault={data.fault} />
      <Occurrences fault={data.fault} />
    </Pane>
  )
}

/** When each release was first seen with the fault, in that order. */
function firstSeen({ byRelease }: FaultDetail): ReleaseMark[] {
  const first = new Map<string, number>()
  for (const { release, firstAtMs } of byRelease) if (release) first.set(release, Math.min(first.get(release) ?? firstAtMs, firstAtMs))
  return [...first].map(([release, atMs]) => ({ release, atMs })).sort((a, b) => a.atMs - b.atMs)
}

function Occurrences({ fault }: { fault: string }) {
  const [cursors, setCursors] = useState<(string | undefined)[]>([undefined])
  return (
    <section aria-label="Occurrences" className="border-t border-edge px-4 py-3">
      <SectionHead>Occurrences, newest first</SectionHead>
      {cursors.map((cursor, at) => (
        <OccurrencePage
          key={cursor ?? 'first'}
          fault={fault}
          cursor={cursor}
          onMore={at === cursors.length - 1 ? (next) => setCursors([...cursors, next]) : undefined}
        />
      ))}
    </section>
  )
}

function OccurrencePage({
  fault,
  cursor,
  onMore,
}: {
  fault: string
  cursor: string | undefined
  onMore: ((cursor: string) => void) | undefined
}) {
  const { data } = useOccurrencesQuery({ fault, ...(cursor !== undefined && { cursor }) })
  const trail = usePaneTrail()
  const shown = trail.next?.kind === 'occurrence' ? trail.next.id : null
  return (
    <>
      <ul className="m-0 list-none p-0">
        {data?.rows.map((row) => {
          const id = `${fault}/${row.occurrenceId}`
          return (
            <li key={row.occurrenceId} className="border-b border-edge-soft">
              <button
                type="button"
                aria-current={id === shown}
                className={`flex w-full gap-2 px-1 py-1 text-left hover:bg-mark ${id === shown ? 'bg-mark' : ''}`}
                onClick={() => trail.open({ kind: 'occurrence', id })}
              >
                <span className="w-[72px] shrink-0 text-ink-2">
                  <When atMs={row.atMs} />
                </span>
                <span className="shrink-0">{row.release || 'no release'}</span>
                <span className="shrink-0 text-ink-2">{row.environment}</span>
                <span className="min-w-0 truncate font-mono text-[12px]">{row.message}</span>
              </button>
            </li>
          )
        })}
      </ul>
      {data?.nextCursor && onMore && (
        <Button look="text" onClick={() => onMore(data.nextCursor ?? '')}>
          Older ones
        </Button>
      )}
    </>
  )
}
