import { lazy, Suspense, useState } from 'react'
import { useFaultQuery, useFaultsQuery, useOccurrencesQuery } from '../../shared/lib/api'
import { plural } from '../../shared/lib/format'
import { usePaneTrail } from '../../shared/lib/use-trail'
import { TextInput } from '../../shared/ui/fields'
import { Pane } from '../../shared/ui/Pane'
import { Button, Pending, Quiet, SectionHead, When } from '../../shared/ui/parts'
import { RowList } from '../../shared/ui/RowList'
import { Stair } from '../../shared/ui/Stair'
import { ThingLink } from '../../shared/ui/ThingLink'
import { FaultEvidence } from './FaultEvidence'

const OccurrenceChart = lazy(() => import('./OccurrenceChart').then((module) => ({ default: module.OccurrenceChart })))

export function FaultsPane() {
  const [q, setQ] = useState('')
  const { data, error, isLoading } = useFaultsQuery({ q })
  const trail = usePaneTrail()
  const rows = data?.rows ?? []
  return (
    <Pane
      label="Faults"
      title={
        <>
          Faults <span className="ml-1 text-[13px] font-normal text-ink-2">last seen first</span>
        </>
      }
    >
      <div className="flex h-full flex-col">
        <div className="border-b border-edge px-3 py-1.5">
          <TextInput
            aria-label="Find faults"
            placeholder="message, function or service"
            value={q}
            onChange={(event) => setQ(event.target.value)}
            className="border-0! px-0! py-1!"
          />
        </div>
        <Pending error={error} isLoading={isLoading} />
        {data && rows.length === 0 && (
          <Quiet>No fault has been received{q && ' that fits'}. Point an OpenTelemetry SDK at /otlp and errors will be grouped here.</Quiet>
        )}
        <div className="min-h-0 flex-1">
          {rows.length > 0 && (
            <RowList
              label="Faults"
              rows={rows}
              rowHeightPx={48}
              idOf={(row) => row.fault}
              selectedId={trail.next?.kind === 'fault' ? trail.next.id : null}
              onShow={(row, isStep) => trail.open({ kind: 'fault', id: row.fault }, { isStep })}
              renderRow={(row) => (
                <div className="flex min-w-0 flex-1 items-center gap-3 py-1">
                  <span className="w-[40px] shrink-0 font-mono text-[12px] text-ink-2">{row.fault}</span>
                  <span className="min-w-0 flex-1">
                    <span className="block truncate font-medium">
                      {row.type}: {row.message}
                    </span>
                    <span className="block truncate text-[12px] text-ink-2">
                      {row.service} · {row.environments.join(', ')} · {row.releases.join(', ')}
                    </span>
                  </span>
                  {row.item ? (
                    <Stair stair={row.item.stair} hasComeBack={row.item.hasComeBack} />
                  ) : (
                    <span className="text-[12px] text-ink-3">no item</span>
                  )}
                  <span className="w-[44px] shrink-0 text-right font-bold text-fault">{row.occurrences} ×</span>
                  <span className="w-[64px] shrink-0 text-right text-[12px] text-ink-3">
                    <When atMs={row.lastSeenAtMs} />
                  </span>
                </div>
              )}
            />
          )}
        </div>
      </div>
    </Pane>
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
      {data.item && (
        <p className="flex items-center gap-2 px-4 pt-3">
          Logged as <ThingLink to={{ kind: 'item', id: data.item.key }} /> <Stair stair={data.item.stair} hasComeBack={data.item.hasComeBack} />
        </p>
      )}
      <FaultEvidence fault={id} />
      <div className="border-t border-edge px-4 py-3">
        <SectionHead>When</SectionHead>
        <Suspense fallback={<div className="h-[110px]" />}>
          <OccurrenceChart byMinute={data.byMinute} />
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
              <tr key={`${row.release}${row.environment}`} className="border-t border-edge-soft">
                <td>
                  {row.release ? <ThingLink to={{ kind: 'release', id: `${data.service}@${row.release}` }}>{row.release}</ThingLink> : 'not told'}
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
      <div className="border-t border-edge px-4 py-3">
        <SectionHead>Why these are one</SectionHead>
        <p className="text-ink-2">
          Same type, same {data.reason.basis === 'message' ? 'message' : `place (${data.reason.frame ?? 'unknown'})`}, messages alike as “
          {data.maskedMessage}”{data.reason.maskedValues > 0 && `; ${plural(data.reason.maskedValues, 'value')} in it may differ`}.
        </p>
      </div>
      <Occurrences fault={id} />
    </Pane>
  )
}

function Occurrences({ fault }: { fault: string }) {
  const { data } = useOccurrencesQuery({ fault })
  return (
    <div className="border-t border-edge px-4 py-3">
      <SectionHead>Newest occurrences, as received</SectionHead>
      {data?.rows.map((row) => (
        <details key={row.occurrenceId} className="border-b border-edge-soft py-1">
          <summary className="cursor-pointer">
            <When atMs={row.atMs} /> · {row.release || 'no release'} · {row.environment} · {row.message}
          </summary>
          <pre className="overflow-x-auto bg-paper p-2 font-mono text-[11px]">
            {JSON.stringify({ resource: row.resource, attributes: row.attributes, traceId: row.traceId }, null, 1)}
            {'\n'}
            {row.stacktrace}
          </pre>
        </details>
      ))}
    </div>
  )
}
