import type { BuildFindings } from '@dystracer/core/builds/wire'
import { FileLink } from '#features/files/index'
import { plural } from '#shared/lib/format'
import { SectionHead } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useBuildFindingsQuery } from './builds.api'

type Found = BuildFindings['fresh'][number]

const LEVEL_LOOK: Record<Found['level'], string> = {
  error: 'font-bold text-fault',
  warning: 'text-ochre',
  note: 'text-ink-2',
  none: 'text-ink-3',
}

/** What analysers found at the commit of a build: new ones first, then what is gone; nothing where no report of findings came. */
export function Findings({ id, repository }: { id: string; repository: string }) {
  const { data } = useBuildFindingsQuery(id)
  if (!data?.isAnalysed) return null
  const { fresh, gone, stayed, against, more } = data
  return (
    <section aria-label="Findings" className="border-t border-edge px-4 py-3">
      <SectionHead>Findings</SectionHead>
      <p className="m-0">
        <span className={`text-[22px] ${fresh.length > 0 ? 'text-fault' : ''}`}>{fresh.length}</span> new, {gone.length} gone, {stayed} as
        before
        {against === null ? '; no commit before it was analysed' : ', against '}
        {against !== null && <ThingLink to={{ kind: 'commit', id: `${repository}/${against}` }} />}
        {more > 0 && `; ${more} more not listed`}
      </p>
      <List label="New findings" rows={fresh} repository={repository} />
      {gone.length > 0 && (
        <details className="mt-1">
          <summary className="text-[12px] text-ink-2">{plural(gone.length, 'finding')} gone</summary>
          <List label="Findings that are gone" rows={gone} repository={repository} />
        </details>
      )}
    </section>
  )
}

function List({ label, rows, repository }: { label: string; rows: readonly Found[]; repository: string }) {
  if (rows.length === 0) return null
  return (
    <ul aria-label={label} className="m-0 list-none p-0 text-[12px]">
      {rows.map((row) => (
        <li key={`${row.tool}${row.ruleId}${row.file}${row.line}${row.message}`} className="border-b border-edge-soft py-1">
          <span className={LEVEL_LOOK[row.level]}>{row.level}</span> {row.message}{' '}
          <span className="text-ink-3">
            {row.tool} {row.ruleId}
          </span>
          {row.file !== null && (
            <span className="ml-2 font-mono">
              <FileLink repository={repository} path={row.file} />
              {row.line !== null && `:${row.line}`}
            </span>
          )}
        </li>
      ))}
    </ul>
  )
}
