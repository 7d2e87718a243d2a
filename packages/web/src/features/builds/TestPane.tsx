import type { TestRecord } from '@dystracer/core/builds/wire'
import { useState } from 'react'
import { FileLink } from '#features/files/index'
import { usePeople } from '#features/people/index'
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
        <Whereabouts record={record} />
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
      <Conditions record={record} />
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

/** Where it stands, who looks after it, and what it was called before. */
function Whereabouts({ record: { repository, file, ownerIds, formerly } }: { record: TestRecord }) {
  const { nameOf } = usePeople()
  return (
    <>
      {file !== null && (
        <p>
          In{' '}
          <span className="font-mono text-[12px]">
            <FileLink repository={repository} path={file} />
          </span>
          {ownerIds.length > 0 && `, which ${ownerIds.map(nameOf).join(' and ')} ${ownerIds.length === 1 ? 'looks' : 'look'} after`}
        </p>
      )}
      {formerly.map(({ suite, name, until, untilBuild }) => (
        <p key={`${suite}/${name}`} className="text-ink-2">
          Until <ThingLink to={{ kind: 'build', id: `${repository}/${until}` }}>build {untilBuild}</ThingLink> it was “{name}”
          {suite && ` in ${suite}`}; what it did then counts.
        </p>
      ))}
    </>
  )
}

const BY: Record<TestRecord['conditions'][number]['by'], string> = { machine: 'on', hours: 'at', order: 'when it runs' }

/** How often it does not simply pass, by machine, time of day and order; only of one that wavers. */
function Conditions({ record: { conditions } }: { record: TestRecord }) {
  const waver = conditions.filter(({ by }) => conditions.some((one) => one.by === by && one.share.count > 0))
  if (waver.length === 0) return null
  return (
    <section aria-label="What it hangs on" className="border-t border-edge px-4 py-3">
      <SectionHead>What it hangs on</SectionHead>
      <table className="w-full text-left text-[12px]">
        <tbody>
          {waver.map(({ by, value, share, standsOut }) => (
            <tr key={`${by}${value}`} className={`border-b border-edge-soft last:border-0 ${standsOut ? 'font-bold text-ochre' : ''}`}>
              <td className="py-0.5 pr-3">
                {BY[by]} {value}
              </td>
              <td className="pr-3">
                did not pass in {share.count} of {plural(share.of, 'run')}
              </td>
              <td>
                {percent(share.share)} ({percent(share.from)} to {percent(share.to)})
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
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
