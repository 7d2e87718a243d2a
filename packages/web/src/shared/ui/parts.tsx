import { LABEL_COLOURS, type LabelColour } from '@dystracer/core/setup/label-colour'
import type { ButtonHTMLAttributes, ReactNode } from 'react'
import { fullDate, shortDate } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'

const BUTTON = {
  main: 'rounded-[3px] bg-ink px-3 py-1.5 font-bold text-sheet disabled:opacity-50',
  plain: 'rounded-[3px] border border-edge bg-sheet px-2.5 py-1 text-ink hover:bg-mark disabled:opacity-50',
  text: 'link px-0.5 py-1 disabled:opacity-50',
  // Within a line of text: hit in 24 pixels, without making the line higher.
  line: 'link -my-[3px] min-h-6 px-0.5 disabled:opacity-50',
} as const

export function Button({
  look = 'plain',
  className = '',
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { look?: keyof typeof BUTTON }) {
  return <button type="button" className={`${BUTTON[look]} ${className}`} {...rest} />
}

export function Initials({ text, name }: { text: string; name?: string }) {
  return (
    <span
      title={name}
      className="inline-flex h-5 w-5 shrink-0 items-center justify-center rounded-[2px] bg-edge-soft text-[10px] font-bold text-ink-2"
    >
      {text}
    </span>
  )
}

const SEVERITY_LOOK = ['', 'text-fault font-bold', 'text-fault font-bold', 'text-ink font-bold', 'text-ink-3', 'text-ink-3']

/** A bare numeral from 1 (worst) to 5. */
export function Severity({ value }: { value: number | null }) {
  return (
    <span
      role="img"
      title={value === null ? 'no severity yet' : `severity ${value}`}
      aria-label={value === null ? 'no severity yet' : `severity ${value}`}
      className={`inline-block w-3 shrink-0 text-center ${value === null ? 'text-ink-3' : SEVERITY_LOOK[value]}`}
    >
      {value ?? '·'}
    </span>
  )
}

/** The mark of an item of which people claim what the evidence does not hold, or the other way round. */
export function Drift() {
  return (
    <span role="img" aria-label="claims and evidence part" title="Claims and evidence part" className="font-bold text-ochre">
      ≠
    </span>
  )
}

/** A word with an underline in the colour that the project gave to it. */
export function Label({ text, colour }: { text: string; colour: LabelColour | undefined }) {
  return (
    <span
      className="mr-2 inline-block border-b-2 text-[12px] text-ink-2"
      style={{ borderColor: colour ? LABEL_COLOURS[colour] : 'var(--edge)' }}
    >
      {text}
    </span>
  )
}

export function When({ atMs }: { atMs: number }) {
  return (
    <time dateTime={new Date(atMs).toISOString()} title={fullDate(atMs)} className="whitespace-nowrap">
      {shortDate(atMs)}
    </time>
  )
}

export function SectionHead({ children }: { children: ReactNode }) {
  return <h3 className="mb-1 text-[12px] font-bold text-ink-3">{children}</h3>
}

/** What a list or pane says while there is nothing to show. */
export function Quiet({ children }: { children: ReactNode }) {
  return <p className="px-4 py-6 text-ink-2">{children}</p>
}

/** Why what was sent was refused, in a form or dialog; nothing where it was not. Fields say theirs themselves. */
export function Refusal({ error, className = '' }: { error: unknown; className?: string }) {
  return error ? (
    <p role="alert" className={`text-fault ${className}`}>
      {problemText(error)}
    </p>
  ) : null
}

/** Shows what came of a request: the problem in words, or that it is on its way. */
export function Pending({ error, isLoading }: { error?: unknown; isLoading: boolean }) {
  if (error) return <Refusal error={error} className="px-4 py-4" />
  return isLoading ? (
    <p role="status" className="px-4 py-4 text-ink-3">
      Reading …
    </p>
  ) : null
}

export function Fact({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="min-w-0 border-b border-edge-soft px-4 py-1.5">
      <div className="text-[12px] text-ink-3">{label}</div>
      <div className="min-h-[20px] break-words">{children}</div>
    </div>
  )
}
