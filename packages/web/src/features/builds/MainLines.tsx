import type { MainLine } from '@dystracer/core/builds/wire'
import { AsideFindings } from '#features/findings/index'
import { usePeople } from '#features/people/index'
import { ThingLink } from '#shared/ui/ThingLink'
import { When } from '#shared/ui/parts'
import { plural } from '#shared/lib/format'
import { useAsideQuery, useMainLinesQuery } from './builds.api'
import { TestLink } from './TestLink'

/** How the main line of each repository stands: what is broken a line each, all that passes together in one. */
export function MainLines() {
  const { data } = useMainLinesQuery()
  const told = (data?.rows ?? []).filter((row) => row.newest !== null)
  const broken = told.filter((row) => row.brokenSince !== null)
  const passing = told.filter((row) => row.brokenSince === null)
  return (
    <section aria-label="Main lines">
      <AsideLine />
      <AsideFindings />
      {broken.map((row) => (
        <BrokenLine key={row.repository} row={row} />
      ))}
      {passing.length > 0 && (
        <p className="m-0 border-b border-edge-soft px-3 py-1 text-[12px] text-ink-2">
          <span className="text-proof">passes</span>:{' '}
          {passing.map(({ repository, branch, newest }, at) => (
            <span key={repository} className="whitespace-nowrap">
              {at > 0 && ', '}
              <ThingLink to={{ kind: 'build', id: `${repository}/${newest?.number ?? 0}` }} className="leading-6">
                {repository} {branch}
              </ThingLink>
            </span>
          ))}
        </p>
      )}
    </section>
  )
}

/** How many tests hold no merge up for now, each to be looked at. */
function AsideLine() {
  const { data } = useAsideQuery()
  if (!data || data.rows.length === 0) return null
  return (
    <details className="border-b border-edge-soft px-3 py-1 text-[12px] text-ink-2">
      <summary className="min-h-6 cursor-pointer leading-6">{plural(data.rows.length, 'test')} set aside</summary>
      {data.rows.map((test) => (
        <p key={`${test.repository}/${test.suite}/${test.name}`} className="m-0 leading-6">
          <TestLink repository={test.repository} test={test} /> until {test.until}: {test.why}
        </p>
      ))}
    </details>
  )
}

function BrokenLine({ row }: { row: MainLine }) {
  const { nameOf } = usePeople()
  const { repository, branch, brokenSince, brokenBy, takenBy } = row
  if (brokenSince === null) return null
  return (
    <p className="m-0 border-b border-edge-soft bg-fault-soft px-3 py-1 leading-6">
      <b className="text-fault">
        {repository} {branch} is broken
      </b>{' '}
      since <ThingLink to={{ kind: 'build', id: `${repository}/${brokenSince.number}` }}>build {brokenSince.name}</ThingLink>,{' '}
      <When atMs={brokenSince.startedAtMs} />
      {brokenBy.length > 0 && `, with commits by ${brokenBy.join(', ')}`}
      {takenBy.length > 0 ? `; ${takenBy.map(nameOf).join(', ')} is on it` : '; nobody is on it'}
    </p>
  )
}
