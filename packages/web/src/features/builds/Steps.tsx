import type { BuildDetail } from '@dystracer/core/builds/wire'
import { useBuildLogs, logId } from '#features/build-logs/index'
import { PaneLink } from '#shared/ui/PaneLink'
import { SectionHead } from '#shared/ui/parts'
import { STATE_LOOK } from './build-look'

type Step = BuildDetail['steps'][number]
interface Span {
  fromMs: number
  toMs: number
}

/** What a build did, as a tree: each step with its log, how it ended, and when it ran beside the others; nothing where it told none. */
export function Steps({ build }: { build: BuildDetail }) {
  const of = { repository: build.repository, number: String(build.number) }
  const { data } = useBuildLogs(of, build.state === 'running')
  if (build.steps.length === 0) return null
  const known = new Set(build.steps.map(({ step }) => step))
  const tops = build.steps.filter(({ parent }) => parent === null || !known.has(parent))
  const span = spanOf(build.steps)
  // Of a step that was tried again the newest log is the one that is looked for.
  const attempts = new Map((data?.rows ?? []).map((log) => [log.step, log.attempt]))
  const lineOf = (step: Step, depth: number) => {
    const attempt = attempts.get(step.name)
    return (
      <li key={step.step}>
        <p className="m-0 flex gap-3 leading-6" style={{ paddingLeft: depth * 14 }}>
          <span className="min-w-0 flex-1 truncate">
            {attempt === undefined ? (
              step.name
            ) : (
              <PaneLink to={{ kind: 'build-log', id: logId({ ...of, step: step.name, attempt }) }}>{step.name}</PaneLink>
            )}
          </span>
          <span className={step.outcome ? STATE_LOOK[step.outcome] : 'text-ink-2'}>{step.outcome ?? 'running'}</span>
          <Bar step={step} span={span} />
          <span className="w-[52px] shrink-0 text-right text-ink-2">{lasted(step)}</span>
        </p>
        {partsOf(step).length > 0 && <ul className="m-0 list-none p-0">{partsOf(step).map((part) => lineOf(part, depth + 1))}</ul>}
      </li>
    )
  }
  const partsOf = ({ step }: Step) => build.steps.filter(({ parent }) => parent === step)
  return (
    <section aria-label="Steps" className="border-t border-edge px-4 py-3">
      <SectionHead>Steps</SectionHead>
      <ul className="m-0 list-none p-0">{tops.map((step) => lineOf(step, 0))}</ul>
    </section>
  )
}

/** When a step ran within the build, as a stroke; its words stand beside it. */
function Bar({ step: { startedAtMs, finishedAtMs, outcome }, span }: { step: Step; span: Span }) {
  const share = (atMs: number) => ((atMs - span.fromMs) / Math.max(1, span.toMs - span.fromMs)) * 100
  const left = startedAtMs === null ? 0 : share(startedAtMs)
  const right = share(finishedAtMs ?? span.toMs)
  return (
    <span aria-hidden className="relative mt-[9px] h-[6px] w-[90px] shrink-0 bg-edge-soft">
      {startedAtMs !== null && (
        <span
          className={`absolute h-full ${outcome === 'broke' ? 'bg-fault' : 'bg-ink-3'}`}
          style={{ left: `${left}%`, width: `${Math.max(3, right - left)}%` }}
        />
      )}
    </span>
  )
}

function spanOf(steps: readonly Step[]): Span {
  const times = steps.flatMap(({ startedAtMs, finishedAtMs }) => [startedAtMs, finishedAtMs].filter((atMs) => atMs !== null))
  return { fromMs: Math.min(...times), toMs: Math.max(...times) }
}

/** `0.4 s`, `12 s`, `3 min`. */
function lasted({ startedAtMs, finishedAtMs }: Step): string {
  if (startedAtMs === null || finishedAtMs === null) return ''
  const seconds = (finishedAtMs - startedAtMs) / 1000
  if (seconds < 10) return `${seconds.toFixed(1)} s`
  return seconds < 120 ? `${Math.round(seconds)} s` : `${Math.round(seconds / 60)} min`
}
