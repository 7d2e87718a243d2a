import type { TestRecord } from '@dystracer/core/builds/wire'
import { useState } from 'react'
import { TestPace } from '#features/trends/index'
import { durationText, plural } from '#shared/lib/format'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useTestRecordQuery } from './builds.api'
import { SetAside } from './SetAside'
import { TestStrip } from './Strip'
import { testOfId } from './TestLink'

const STRIP_MAX = 80
const SHOWN = 12
const TONE: Record<TestRecord['outcomes'][number]['outcome'], string> = {
  passed: 'text-proof',
  failed: 'font-bold text-fault',
  flaky: 'font-bold text-ochre',
  skipped: 'text-ink-3',
}

/** The past of one test: a strip, how often it is flaky, what it says when it fails, and its pace. */
export function TestPane({ id }: { id: string }) {
  const test = testOfId(id)
  const { data, error, isLoading } = useTestRecordQuery(test)
  return (
    <Pane label="Test" title={test.name}>
      <Pending error={error} isLoading={isLoading} />
      {data && <Record record={data} />}
    </Pane>
  )
}

function Record({ record }: { record: TestRecord }) {
  const { repository, suite, outcomes, flaky, mending, failures, medianMs, change, verifies } = record
  const strip = outcomes.slice(0, STRIP_MAX).reverse()
  return (
    <>
      <div className="space-y-1 px-4 py-3">
        <p className="text-ink-2">
          {suite && `${suite}, `}
          {repository}
        </p>
        <p>
          <TestStrip strip={strip.map(({ number, build, outcome }) => ({ number, name: build, outcome }))} />
        </p>
        {flaky && (
          <p>
            {flaky.count === 0 ? (
              <>
                In {plural(flaky.of, 'run')} it never both passed and failed for one commit; seldomer than {percent(flaky.to)}.
              </>
            ) : (
              <>
                <b className="text-ochre">Flaky</b> in {flaky.count} of {plural(flaky.of, 'run')}: {percent(flaky.share)} (
                {percent(flaky.from)} to {percent(flaky.to)}). It proves nothing and breaks nothing while it is.
              </>
            )}
          </p>
        )}
        {mending && (
          <p className="text-ink-2">
            {mending.has >= mending.needs
              ? `${plural(mending.has, 'pass', 'passes')} in a row show that it is mended.`
              : `${plural(mending.needs, 'pass', 'passes')} in a row would show that it is mended; it has ${mending.has}.`}
          </p>
        )}
        <SetAside test={record} />
        {medianMs !== null && (
          <p>
            Takes <b>{durationText(change?.afterMs ?? medianMs)}</b>
            {change && (
              <span className="text-ochre">
                {' '}
                since <ThingLink to={{ kind: 'build', id: `${repository}/${change.number}` }}>build {change.build}</ThingLink>,{' '}
                {durationText(change.beforeMs)} before
              </span>
            )}
          </p>
        )}
        <p>
          {verifies.length > 0 ? 'Proves ' : <span className="text-ochre">It proves no requirement: none is named in it.</span>}
          {verifies.map((key) => (
            <ThingLink key={key} to={{ kind: 'requirement', id: key }} className="mr-2" />
          ))}
        </p>
      </div>
      {failures.length > 0 && (
        <section aria-label="What it said" className="border-t border-edge px-4 py-3">
          <SectionHead>What it said when it failed</SectionHead>
          <ul className="m-0 list-none p-0">
            {failures.map((failure) => (
              <li key={failure.message} className="flex gap-3 border-b border-edge-soft py-1 last:border-0">
                <span className="min-w-0 flex-1 font-mono text-[12px] break-words">{failure.message || 'nothing'}</span>
                <span className="shrink-0">{failure.count} ×</span>
                <ThingLink to={{ kind: 'build', id: `${repository}/${failure.newest}` }}>build {failure.newestBuild}</ThingLink>
              </li>
            ))}
          </ul>
        </section>
      )}
      <div className="border-t border-edge px-4 py-3">
        <TestPace test={record} />
      </div>
      <Outcomes record={record} />
    </>
  )
}

function Outcomes({ record: { repository, outcomes } }: { record: TestRecord }) {
  const [isAll, setIsAll] = useState(false)
  return (
    <section aria-label="Outcomes" className="border-t border-edge px-4 py-3">
      <SectionHead>Outcomes, newest first</SectionHead>
      <ul className="m-0 list-none p-0">
        {outcomes.slice(0, isAll ? outcomes.length : SHOWN).map((row) => (
          <li key={row.number} className="flex gap-3 border-b border-edge-soft py-1 last:border-0">
            <span className={`w-[56px] shrink-0 ${TONE[row.outcome]}`}>{row.outcome}</span>
            <ThingLink to={{ kind: 'build', id: `${repository}/${row.number}` }}>build {row.build}</ThingLink>
            <span className="min-w-0 flex-1 truncate text-ink-2">{row.branch}</span>
            <span className="shrink-0 text-ink-2">{durationText(row.durationMs)}</span>
            <span className="w-[72px] shrink-0 text-right text-ink-2">
              <When atMs={row.atMs} />
            </span>
          </li>
        ))}
      </ul>
      {outcomes.length > SHOWN && !isAll && (
        <Button look="line" onClick={() => setIsAll(true)}>
          All {outcomes.length}
        </Button>
      )}
    </section>
  )
}

function percent(share: number): string {
  const value = share * 100
  return `${value < 10 ? value.toPrecision(2) : Math.round(value)} %`
}
