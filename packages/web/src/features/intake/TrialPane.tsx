import type { RuleTrial } from '@dystracer/core/faults/intake-wire'
import type { ReactNode } from 'react'
import { useReleasesQuery } from '#features/releases/releases.api'
import { capitalised, plural } from '#shared/lib/format'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { Button, Quiet, Refusal, SectionHead } from '#shared/ui/parts'
import { FiredLines } from './FiredLines'
import { OUTCOMES, OUTCOME_WORD } from './rule-words'
import { useTrial } from './use-trial'

/** What the rule beside it would have done about what really came. Its answer is that of the newest trial; nothing of it is stored. */
export function TrialPane({ id: _rule }: { id: string }) {
  const { data, error, isLoading } = useTrial()
  return (
    <Pane
      label="Trial"
      title={
        <>
          {data ? `Tried on ${plural(data.days, 'day')}` : 'Trial'}{' '}
          {data && (
            <span className="text-[13px] font-normal text-ink-2">
              {plural(data.looked, 'fault')}, {plural(data.occurrences, 'occurrence')}, in {seconds(data.tookMs)}
            </span>
          )}
        </>
      }
    >
      {isLoading && (
        <p role="status" className="px-4 py-4">
          <progress aria-label="Going through what came" className="mr-2 h-2 w-[120px] accent-(--proof)" /> Going through what came …
        </p>
      )}
      <Refusal error={error} className="px-4 py-4" />
      {!data && !isLoading && !error && <Quiet>Nothing is tried at the moment. “Try it” in the rule runs it over what came.</Quiet>}
      {data && <Result trial={data} />}
    </Pane>
  )
}

function seconds(ms: number): string {
  return ms < 1000 ? `${ms} ms` : `${(ms / 1000).toFixed(1)} s`
}

function Result({ trial }: { trial: RuleTrial }) {
  const { outcomes, standing, rows, noLonger, missed } = trial
  const trail = usePaneTrail()
  const { data: board } = useReleasesQuery()
  const hasProduction = board?.environments.some(({ kind }) => kind === 'production') ?? true
  const told = OUTCOMES.filter((outcome) => outcome === 'logged' || outcomes[outcome] > 0 || (standing?.[outcome] ?? 0) > 0)
  return (
    <div role="status" aria-label="What it would have done">
      <div className="flex flex-wrap gap-x-8 gap-y-2 border-b border-edge px-4 py-3">
        {told.map((outcome) => (
          <Figure key={outcome} count={outcomes[outcome]} label={OUTCOME_WORD[outcome]}>
            {standing && `${standing[outcome]} as it holds now`}
          </Figure>
        ))}
        <Figure count={missed.length} label="missed" tone={missed.length === 0 ? 'text-proof' : 'text-fault'}>
          that people logged by hand
        </Figure>
      </div>
      {rows.length === 0 && noLonger.length === 0 && (
        <Quiet>
          It would have taken none of them.{' '}
          {hasProduction ? (
            'Ask for fewer times, or for a longer while.'
          ) : (
            <>
              No environment is said to be production yet:{' '}
              <Button look="line" onClick={() => trail.open({ kind: 'settings', id: 'environments' })}>
                set one up
              </Button>
              , by the name that programs send.
            </>
          )}
        </Quiet>
      )}
      {noLonger.length > 0 && (
        <Part title="No longer">
          <FiredLines label="No longer" rows={noLonger} stroke="gone" />
        </Part>
      )}
      {told
        .map((outcome) => ({ outcome, of: rows.filter((row) => row.outcome === outcome) }))
        .filter(({ of }) => of.length > 0)
        .map(({ outcome, of }) => (
          <Part key={outcome} title={OUTCOME_WORD[outcome]}>
            <FiredLines label={OUTCOME_WORD[outcome]} rows={of} stroke="holds" />
          </Part>
        ))}
      {missed.length > 0 && (
        <Part title="Logged by hand, and missed by it">
          <FiredLines label="Missed" rows={missed} stroke="missed" />
        </Part>
      )}
      {trial.more > 0 && <p className="px-4 py-2 text-ink-2">And {plural(trial.more, 'more')} that are counted, not listed.</p>}
    </div>
  )
}

function Figure({ count, label, tone = '', children }: { count: number; label: string; tone?: string; children: ReactNode }) {
  return (
    <div>
      <p>
        <b className={`text-[20px] ${tone}`}>{count}</b> {label}
      </p>
      <p className="min-h-[18px] text-[12px] text-ink-2">{children}</p>
    </div>
  )
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="border-b border-edge px-4 py-2">
      <SectionHead>{capitalised(title)}</SectionHead>
      {children}
    </section>
  )
}
