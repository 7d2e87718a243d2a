import type { Comparison } from '@dystracer/core/requirements/baselines-wire'
import { linkKindOf } from '@dystracer/core/records/link-kinds'
import { Suspense, useState, type ReactNode } from 'react'
import { Redline } from '#features/history/index'
import { Choose } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { Pending, Quiet, SectionHead } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useBaselinesQuery, useCompareBaselineQuery } from './requirements.api'

/** A baseline against what stands now, or another one. Its id is `PROJECT/baseline`. */
export function BaselinePane({ id }: { id: string }) {
  const slash = id.indexOf('/')
  const [project, baselineId] = [id.slice(0, slash), id.slice(slash + 1)]
  const [other, setOther] = useState('')
  const { data: all } = useBaselinesQuery(project)
  const { data, error, isLoading } = useCompareBaselineQuery({ project, baselineId, ...(other && { with: other }) })
  const others = (all?.rows ?? []).filter((row) => row.baselineId !== baselineId)
  return (
    <Pane
      label="Baseline"
      title={`Since ${data?.from ?? 'the baseline'}`}
      aside={
        <Choose
          aria-label="Compared with"
          className="w-auto! border-0! py-0.5! text-[12px]"
          none="until now"
          value={other}
          choices={others.map((row) => ({ value: row.baselineId, label: `until ${row.name}` }))}
          onChange={(event) => setOther(event.target.value)}
        />
      }
    >
      <Pending error={error} isLoading={isLoading} />
      {data && <Changes comparison={data} />}
    </Pane>
  )
}

function Changes({ comparison }: { comparison: Comparison }) {
  const { added, removed, changed, moved, retired, restored, linksAdded, linksRemoved } = comparison
  const count = [added, removed, changed, moved, retired, restored, linksAdded, linksRemoved].reduce((sum, list) => sum + list.length, 0)
  if (count === 0) return <Quiet>Nothing differs.</Quiet>
  return (
    <>
      <Part title="Changed" rows={changed}>
        {(row) => (
          <>
            <Named row={row} />
            {row.because && <span className="text-ink-2"> because: {row.because}</span>}
            <Suspense fallback={<p className="text-ink-2">Reading …</p>}>
              <div className="font-serif text-[15px]">
                <Redline before={row.before} after={row.after} />
              </div>
            </Suspense>
          </>
        )}
      </Part>
      <Part title="New" rows={added}>
        {(row) => (
          <>
            <Named row={row} />
            <p className="font-serif text-[15px]">{row.text}</p>
          </>
        )}
      </Part>
      <Part title="Gone" rows={removed}>
        {(row) => <Named row={row} />}
      </Part>
      <Part title="Retired" rows={retired}>
        {(row) => <Named row={row} />}
      </Part>
      <Part title="Holds again" rows={restored}>
        {(row) => <Named row={row} />}
      </Part>
      <Part title="Moved" rows={moved}>
        {(row) => (
          <>
            <Named row={row} />{' '}
            <span className="text-ink-2">
              from {row.from ?? 'the top'} to {row.to ?? 'the top'}
            </span>
          </>
        )}
      </Part>
      <Links title="Tied since" links={linksAdded} />
      <Links title="Untied since" links={linksRemoved} />
    </>
  )
}

function Named({ row }: { row: { key: string; title: string } }) {
  return (
    <>
      <ThingLink to={{ kind: 'requirement', id: row.key }} /> <span className="font-serif">{row.title}</span>
    </>
  )
}

function Part<Row extends { key: string }>({
  title,
  rows,
  children,
}: {
  title: string
  rows: readonly Row[]
  children: (row: Row) => ReactNode
}) {
  if (rows.length === 0) return null
  return (
    <section aria-label={title} className="border-b border-edge px-4 py-3">
      <SectionHead>
        {title}: {rows.length}
      </SectionHead>
      <ul className="m-0 list-none p-0">
        {rows.map((row) => (
          <li key={row.key} className="border-b border-edge-soft py-1 last:border-0">
            {children(row)}
          </li>
        ))}
      </ul>
    </section>
  )
}

function Links({ title, links }: { title: string; links: Comparison['linksAdded'] }) {
  return (
    <Part title={title} rows={links.map((link) => ({ ...link, key: `${link.kind} ${link.item} ${link.requirement}` }))}>
      {(link) => (
        <>
          <ThingLink to={{ kind: 'item', id: link.item }} /> {linkKindOf(link.kind)?.out ?? link.kind}{' '}
          <ThingLink to={{ kind: 'requirement', id: link.requirement }} />
        </>
      )}
    </Part>
  )
}
