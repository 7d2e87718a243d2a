import type { BuildLog } from '@dystracer/core/build-logs/wire'
import { FileLink } from '#features/files/index'
import { plural } from '#shared/lib/format'
import { PaneLink } from '#shared/ui/PaneLink'
import { SectionHead } from '#shared/ui/parts'
import { useBuildLogs } from './build-logs.api'
import { logId } from './log-id'

/** Of each log so many errors stand in the build. */
const MARKS_SHOWN = 3

interface Props {
  repository: string
  number: number
  isRunning: boolean
  /** Steps that lead to their logs themselves: here only what went wrong in them is told. */
  steps: readonly string[]
}

/** What the steps of a build printed, with the first errors of each; nothing where nothing is to be told. */
export function BuildLogs({ repository, number, isRunning, steps }: Props) {
  const of = { repository, number: String(number) }
  const { data } = useBuildLogs(of, isRunning)
  const rows = (data?.rows ?? []).filter((log) => log.errors + log.warnings > 0 || !steps.includes(log.step))
  if (rows.length === 0) return null
  return (
    <section aria-label="Logs" className="border-t border-edge px-4 py-3">
      <SectionHead>Logs</SectionHead>
      <ul className="m-0 list-none p-0">
        {rows.map((log) => (
          <li key={`${log.step}#${log.attempt}`} className="py-0.5">
            <LogHead of={of} log={log} />
            <Marks of={of} log={log} />
          </li>
        ))}
      </ul>
    </section>
  )
}

function LogHead({ of, log }: { of: { repository: string; number: string }; log: BuildLog }) {
  const { step, attempt, errors, warnings } = log
  return (
    <p className="m-0 flex gap-3 leading-6">
      <span className="min-w-0 flex-1 truncate">
        <PaneLink to={{ kind: 'build-log', id: logId({ ...of, step, attempt }) }}>{step}</PaneLink>
        {attempt > 1 && <span className="text-ink-2"> attempt {attempt}</span>}
      </span>
      {errors > 0 && <span className="font-bold text-fault">{plural(errors, 'error')}</span>}
      {warnings > 0 && <span className="text-ochre">{plural(warnings, 'warning')}</span>}
      <span className="text-ink-2">{plural(log.lines, 'line')}</span>
    </p>
  )
}

function Marks({ of, log }: { of: { repository: string; number: string }; log: BuildLog }) {
  const errors = log.marks.filter((mark) => mark.kind === 'error').slice(0, MARKS_SHOWN)
  return errors.map((mark) => (
    <p key={mark.line} className="m-0 flex gap-3 pl-3 text-[12px] leading-6">
      <PaneLink
        to={{ kind: 'build-log', id: logId({ ...of, step: log.step, attempt: log.attempt, line: mark.line }) }}
        className="w-[44px] shrink-0 text-right font-mono"
      >
        <span className="sr-only">line </span>
        {mark.line}
      </PaneLink>
      <span className="min-w-0 flex-1 truncate font-mono" title={mark.text}>
        {mark.text}
      </span>
      {mark.place && (
        <FileLink repository={of.repository} {...mark.place}>
          {mark.place.path.slice(mark.place.path.lastIndexOf('/') + 1)}:{mark.place.line}
        </FileLink>
      )}
    </p>
  ))
}
