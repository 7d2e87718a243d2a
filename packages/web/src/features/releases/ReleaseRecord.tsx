import type { ReleaseHealth } from '@dystracer/core/releases/contents-wire'
import { age } from '#shared/lib/format'
import { Pending, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useReleaseHealthQuery } from './releases.api'

const VERDICT: Record<ReleaseHealth['verdict'], { words: string; stroke: string }> = {
  'not-run': { words: 'It has not run in production.', stroke: 'h-px bg-ink-3' },
  'too-early': { words: 'Too early to say: too little was done with it.', stroke: 'h-px bg-ink-3' },
  healthy: { words: 'It does well.', stroke: 'h-[3px] bg-proof' },
  look: { words: 'Look at it.', stroke: 'h-[3px] bg-ochre' },
  stop: { words: 'It should be taken back.', stroke: 'h-[3px] bg-fault' },
}

/** How a release does in production against the one before. */
export function ReleaseRecord({ release }: { release: string }) {
  const { data, error, isLoading } = useReleaseHealthQuery(release)
  return (
    <section aria-label="Its record in production" className="border-t border-edge px-4 py-3">
      <SectionHead>Its record in production</SectionHead>
      <Pending error={error} isLoading={isLoading} />
      {data && <Record health={data} />}
    </section>
  )
}

function Record({ health }: { health: ReleaseHealth }) {
  const { verdict, reasons, before, after, newFaults, against, firstBadMs, runningSinceMs } = health
  const { words, stroke } = VERDICT[verdict]
  return (
    <>
      <p className="flex items-center gap-2">
        <span aria-hidden="true" className={`w-[18px] shrink-0 ${stroke}`} />
        <b>{words}</b>
        {reasons.includes('nothing-before') && <span className="text-ink-2">There is nothing before it to hold it against.</span>}
        {reasons.includes('no-worse') && newFaults.length === 0 && (
          <span className="text-ink-2">It fails no more often than {against}.</span>
        )}
      </p>
      {reasons.includes('little-traffic') && verdict === 'look' && (
        <p className="text-ink-2">Too little is known of what was done with it to say how often it fails.</p>
      )}
      {after && !reasons.includes('little-traffic') && verdict !== 'not-run' && (
        <p>
          failures a thousand units of work{' '}
          {before && (
            <>
              <b>{rounded(before.perThousand)}</b> before,{' '}
            </>
          )}
          <b className={reasons.some((reason) => reason.startsWith('fails-')) ? 'text-fault' : ''}>{rounded(after.perThousand)}</b>{' '}
          {before && 'after '}
          <span className="text-ink-2">
            ({rounded(after.from)} to {rounded(after.to)})
          </span>
        </p>
      )}
      {firstBadMs !== null && runningSinceMs !== null && firstBadMs >= runningSinceMs && (
        <p className="text-ink-2">
          The first new fault came <When atMs={firstBadMs} />, {age(runningSinceMs, firstBadMs)} after it began to run.
        </p>
      )}
      {newFaults.length > 0 && (
        <ul aria-label="New faults" className="m-0 list-none p-0">
          {newFaults.map((fault) => (
            <li key={fault.fault} className="flex gap-3 border-b border-edge-soft py-1 last:border-0">
              <ThingLink to={{ kind: 'fault', id: fault.fault }} />
              <span className="min-w-0 flex-1 truncate">
                {fault.type}: {fault.message}
              </span>
              <span className="shrink-0 text-ink-2">{fault.occurrences} ×</span>
            </li>
          ))}
        </ul>
      )}
    </>
  )
}

function rounded(value: number): string {
  return value >= 100 ? String(Math.round(value)) : value.toPrecision(2).replace(/\.0$/, '')
}
