import type { ReleaseBoard } from '@dystracer/core/releases/wire'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { axisDate, fullDate } from '#shared/lib/format'
import { pageNowMs } from '#shared/lib/past'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Button } from '#shared/ui/parts'
import { RollBackDialog } from './RollBackDialog'

type Service = ReleaseBoard['services'][number]
type Run = Service['runs'][number]
const WEEKS = 12
const SPAN_MS = WEEKS * 7 * 86_400_000
/** A run is drawn at least so wide, in percent, and named, and opened by a click, from so much on. */
const SEEN_MIN = 0.6
const NAMED_MIN = 5

/** What ran where in twelve weeks: time runs to the right, places stand below each other. */
export function RunLines({ service, environments }: { service: Service; environments: ReleaseBoard['environments'] }) {
  const [nowMs] = useState(pageNowMs)
  const fromMs = nowMs - SPAN_MS
  const at = (ms: number) => (100 * (Math.max(ms, fromMs) - fromMs)) / SPAN_MS
  if (service.runs.length === 0) return null
  return (
    <div className="mt-1">
      <div aria-hidden="true" className="ml-[92px] flex justify-between text-[12px] text-ink-3">
        {[0, 1, 2].map((third) => (
          <span key={third}>{axisDate(fromMs + (third * SPAN_MS) / 3, { fromMs, toMs: nowMs })}</span>
        ))}
        <span>now</span>
      </div>
      {environments
        .filter(({ environment }) => service.runs.some((run) => run.environment === environment))
        .map(({ environment }) => (
          <Line key={environment} service={service} environment={environment} at={at} fromMs={fromMs} />
        ))}
    </div>
  )
}

function Line({ service, environment, at, fromMs }: { service: Service; environment: string; at: (ms: number) => number; fromMs: number }) {
  const { may } = usePeople()
  const trail = usePaneTrail()
  const [isRollingBack, setIsRollingBack] = useState(false)
  const runs = service.runs.filter((run) => run.environment === environment)
  const last = runs.at(-1)
  const standing = new Set(service.releases.filter(({ withdrawn }) => withdrawn === null).map(({ release }) => release))
  // Those that ran here before, the newest first; what was withdrawn since is nothing to go back to.
  const before = [...new Set(runs.slice(0, -1).map((run) => run.release))]
    .reverse()
    .filter((release) => standing.has(release) && release !== last?.release)
  const [newest] = before
  const failed = service.deployments.filter((one) => one.environment === environment && one.state === 'failed' && one.atMs >= fromMs)
  const lookOf = (run: Run, index: number) => (run.isTakenBack ? 'bg-fault' : runs[index - 1]?.isTakenBack ? 'bg-ochre' : 'bg-proof')
  return (
    <div className="flex items-end gap-2">
      <span className="w-[84px] shrink-0 truncate text-[12px] text-ink-2">{environment}</span>
      <ol aria-label={`What ran in ${environment}`} className="relative m-0 h-[28px] min-w-0 flex-1 list-none p-0">
        {runs.map((run, index) => {
          const left = at(run.fromMs)
          const width = Math.max(SEEN_MIN, at(run.toMs ?? fromMs + SPAN_MS) - left - 0.3)
          if (run.toMs !== null && run.toMs < fromMs) return null
          const title = `${run.release}, from ${fullDate(run.fromMs)}${
            run.toMs === null ? ', runs now' : ` to ${fullDate(run.toMs)}`
          }${run.isTakenBack ? ', taken back' : ''}`
          const bar = <span className={`absolute inset-x-0 bottom-[5px] h-[4px] ${lookOf(run, index)}`} />
          const name = (
            <>
              {run.release}
              {run.isTakenBack && <span className="sr-only">, taken back</span>}
            </>
          )
          return (
            <li key={run.deploymentId} className="absolute inset-y-0" style={{ left: `${left}%`, width: `${width}%` }}>
              {width < NAMED_MIN ? (
                // Too narrow to be hit: the table below leads to the release, too.
                <span title={title} className="relative block h-full">
                  <span className="sr-only">{name}</span>
                  {bar}
                </span>
              ) : (
                <button
                  type="button"
                  title={title}
                  onClick={() => trail.open({ kind: 'release', id: `${service.service}@${run.release}` })}
                  className="relative block h-full w-full min-w-6 text-left text-[11px] leading-[17px]"
                >
                  <span className="block truncate">{name}</span>
                  {bar}
                </button>
              )}
            </li>
          )
        })}
        {failed.map((one) => (
          <li
            key={one.deploymentId}
            title={`${one.release} failed ${fullDate(one.atMs)}${one.why ? `: ${one.why}` : ''}`}
            className="absolute bottom-0 h-[5px] w-[2px] bg-fault"
            style={{ left: `${at(one.atMs)}%` }}
          >
            <span className="sr-only">{one.release} failed to start</span>
          </li>
        ))}
      </ol>
      <span className="w-[92px] shrink-0 pb-0.5 text-[12px]">
        {may('releases.deploy') && last && newest !== undefined && (
          <Button
            look="line"
            onClick={() => setIsRollingBack(true)}
            aria-label={`Roll ${service.service} in ${environment} back to ${newest}`}
          >
            back to {newest}…
          </Button>
        )}
      </span>
      {isRollingBack && last && newest !== undefined && (
        <RollBackDialog
          service={service.service}
          environment={environment}
          from={last.release}
          releases={before}
          onClose={() => setIsRollingBack(false)}
        />
      )}
    </div>
  )
}
