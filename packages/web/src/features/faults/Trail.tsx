import type { Trail as TrailData } from '@dystracer/core/faults/wire'
import { useState } from 'react'
import { durationText, plural } from '#shared/lib/format'
import { Button, SectionHead } from '#shared/ui/parts'
import { severityWord } from './state-words'
import { useTrailQuery } from './faults.api'

type Step = TrailData['steps'][number]
/** So many steps are read at a glance, those nearest to the error. */
const SHOWN_MAX = 40

/**
 * The spans and log records of an occurrence's trace, in one line of time; nothing is drawn where its sender told nothing of it. Whether it
 * named a trace is known before.
 */
export function Trail({ fault, occurrenceId, atMs }: { fault: string; occurrenceId: number; atMs: number }) {
  const { data } = useTrailQuery({ fault, occurrenceId })
  const [isAll, setIsAll] = useState(false)
  if (!data || data.steps.length + data.elsewhere === 0) return null
  const told = data.steps.filter(({ stand }) => stand !== 'after')
  const near = told.slice(-SHOWN_MAX)
  const shown = isAll ? data.steps : near
  const hidden = { before: told.length - near.length, after: data.steps.length - told.length }
  const services = new Set(data.steps.map(({ service }) => service))
  const span = { fromMs: Math.min(atMs, ...shown.map((step) => step.atMs)), toMs: Math.max(atMs, ...shown.map(endOf)) }
  return (
    <section aria-label="What happened around it" className="border-t border-edge px-4 py-3">
      <SectionHead>What happened around it</SectionHead>
      <table className="w-full table-fixed text-left">
        <thead className="text-[12px] text-ink-3">
          <tr>
            <th className="w-[84px] font-normal">from the error</th>
            <th className="font-normal">what</th>
            <th className="w-[64px] text-right font-normal">took</th>
            <th className="w-[26%] pl-3 font-normal">when</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((step) => (
            <StepRow key={`${step.kind} ${step.mark}`} step={step} errorAtMs={atMs} span={span} namesService={services.size > 1} />
          ))}
        </tbody>
      </table>
      {(hidden.before > 0 || hidden.after > 0) && (
        <Button look="text" className="mt-1 px-2! text-[12px]" aria-expanded={isAll} onClick={() => setIsAll(!isAll)}>
          {isAll ? 'only what led to it' : `${hiddenWords(hidden)}, show`}
        </Button>
      )}
      {data.elsewhere > 0 && (
        <p className="mt-1 text-[12px] text-ink-3">{plural(data.elsewhere, 'more step')} in services of another project</p>
      )}
    </section>
  )
}

function StepRow({
  step,
  errorAtMs,
  span,
  namesService,
}: {
  step: Step
  errorAtMs: number
  span: { fromMs: number; toMs: number }
  namesService: boolean
}) {
  const tone = step.kind === 'error' ? 'text-fault' : step.stand === 'after' ? 'text-ink-3' : ''
  return (
    <tr className={`border-t border-edge-soft align-top ${tone}`}>
      <td className="py-0.5 font-mono text-[12px] whitespace-nowrap">{offsetOf(step.atMs - errorAtMs)}</td>
      <td className="py-0.5 font-mono text-[12px] break-words" style={{ paddingLeft: step.depth * 12 }}>
        {step.kind === 'log' && <span className="text-ink-3">{severityWord(step.severityNumber)} </span>}
        {step.kind === 'error' ? <b>{step.name}</b> : step.name || '(without a name)'}
        {step.detail && step.detail !== step.name && <span className="text-ink-2"> {step.detail}</span>}
        {namesService && <span className="text-ink-3"> in {step.service}</span>}
        {step.stand === 'during' && step.endMs !== errorAtMs && <span className="sr-only"> (under way when it failed)</span>}
      </td>
      <td className="py-0.5 text-right font-mono text-[12px] whitespace-nowrap">
        {step.endMs !== null && offsetOf(step.endMs - step.atMs).replace('+', '')}
      </td>
      <td className="py-0.5 pl-3">
        <Bar step={step} errorAtMs={errorAtMs} span={span} />
      </td>
    </tr>
  )
}

/** Where a step lies in the time that is shown, with the moment of the error as a line through all of them. */
function Bar({ step, errorAtMs, span }: { step: Step; errorAtMs: number; span: { fromMs: number; toMs: number } }) {
  const whole = Math.max(1, span.toMs - span.fromMs)
  const at = (ms: number) => (100 * (ms - span.fromMs)) / whole
  return (
    <span aria-hidden className="relative mt-1 block h-2">
      <span className="absolute -top-1.5 h-5 w-px bg-fault" style={{ left: `${at(errorAtMs)}%` }} />
      <span
        className={`absolute h-2 min-w-[3px] ${step.kind === 'span' ? 'bg-ink-3' : step.kind === 'error' ? 'bg-fault' : 'bg-ochre'}`}
        style={{ left: `min(${at(step.atMs)}%, calc(100% - 3px))`, width: `${at(endOf(step)) - at(step.atMs)}%` }}
      />
    </span>
  )
}

const endOf = (step: Step): number => step.endMs ?? step.atMs

/** Time to the error: to the millisecond below ten seconds, in words beyond. */
function offsetOf(ms: number): string {
  if (ms === 0) return '0 ms'
  const size = Math.abs(ms)
  return `${ms < 0 ? '−' : '+'}${size < 10_000 ? `${size} ms` : durationText(size)}`
}

function hiddenWords({ before, after }: { before: number; after: number }): string {
  return [before > 0 && plural(before, 'earlier step'), after > 0 && `${plural(after, 'step')} after it`].filter(Boolean).join(' and ')
}
