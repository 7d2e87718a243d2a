import type { BuildCoverage } from '@dystracer/core/trends/wire'
import { coveredFolders } from '@dystracer/core/trends/folders'
import { useMemo, useState } from 'react'
import { FileLink } from '#features/files/index'
import { plural } from '#shared/lib/format'
import { Button, SectionHead } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useBuildCoverageQuery, useUncoveredFailuresQuery } from './trends.api'

const SHOWN = 8
const MISSED_TEXT_MAX = 40

/** What the tests of a build ran: in all, against the build before, by folder and file; first what failed in production untested. */
export function Covered({ repository, number }: { repository: string; number: number }) {
  const of = { repository, number: String(number) }
  const { data } = useBuildCoverageQuery(of)
  const [isAll, setIsAll] = useState(false)
  if (!data || data.files.length === 0) return null
  const { covered, missed, before, files } = data
  const is = percentOf({ covered, missed })
  const fallen = before === null ? [] : files.filter(({ more }) => more > 0).sort((a, b) => b.more - a.more)
  return (
    <section aria-label="Covered" className="border-t border-edge px-4 py-3">
      <SectionHead>Covered</SectionHead>
      <p className="m-0">
        <span className="text-[22px]">{is.toFixed(1)}</span> % of {covered + missed} lines in {plural(files.length, 'file')}
        {before && (
          <span className="text-ink-2">
            ; {changeInWords(is - percentOf(before))}{' '}
            <ThingLink to={{ kind: 'build', id: `${repository}/${before.number}` }}>build {before.name}</ThingLink>
          </span>
        )}
      </p>
      <Untested of={of} />
      {fallen.length > 0 && (
        <p className="m-0 text-[12px] leading-6 text-ochre">
          Fewer lines are run in{' '}
          {fallen.slice(0, 5).map(({ path, more }, at) => (
            <span key={path}>
              {at > 0 && ', '}
              <FileLink repository={repository} path={path} /> (−{more})
            </span>
          ))}
          {fallen.length > 5 && ` and ${fallen.length - 5} more`}
        </p>
      )}
      <Folders files={files} />
      <ul className="m-0 list-none p-0 text-[12px]">
        {files.slice(0, isAll ? undefined : SHOWN).map((file) => (
          <li key={file.path} className="flex gap-3 leading-6">
            <span className="min-w-0 flex-1 truncate font-mono" title={file.path}>
              <FileLink repository={repository} path={file.path} />
            </span>
            <span className="text-ink-2" title={file.missedLines}>
              {file.missed > 0 ? `${plural(file.missed, 'line')} not run: ${file.missedLines.slice(0, MISSED_TEXT_MAX)}` : 'every line run'}
            </span>
          </li>
        ))}
      </ul>
      {files.length > SHOWN && (
        <Button look="text" aria-expanded={isAll} onClick={() => setIsAll(!isAll)}>
          {isAll ? 'fewer' : `all ${plural(files.length, 'file')}`}
        </Button>
      )}
    </section>
  )
}

/** Lines that no test ran and that failed in production. */
function Untested({ of }: { of: { repository: string; number: string } }) {
  const { data } = useUncoveredFailuresQuery(of)
  if (!data || data.rows.length === 0) return null
  return (
    <ul aria-label="Lines that no test runs and that failed in production" className="m-0 list-none p-0 text-[12px]">
      {data.rows.map(({ path, line, source, fault, title }) => (
        <li key={`${path}${line}${fault}`} className="border-b border-edge-soft leading-6">
          <span className="text-fault">failed in production, and no test runs it:</span>{' '}
          <span className="font-mono">
            <FileLink repository={of.repository} path={path} />:{line}
          </span>{' '}
          <ThingLink to={{ kind: 'fault', id: fault }}>{fault}</ThingLink> {title}
          <code className="block truncate">{source}</code>
        </li>
      ))}
    </ul>
  )
}

function Folders({ files }: { files: BuildCoverage['files'] }) {
  const folders = useMemo(() => coveredFolders(files), [files])
  if (folders.length < 2) return null
  return (
    <details className="text-[12px]">
      <summary className="min-h-6 text-ink-2">by folder</summary>
      <ul aria-label="By folder" className="m-0 list-none p-0">
        {folders.map((folder) => (
          <li key={folder.path} className="flex gap-3 py-0.5">
            <span className="min-w-0 flex-1 truncate font-mono">{folder.path}/</span>
            <span className="text-ink-2">
              {percentOf(folder).toFixed(1)} % in {plural(folder.files, 'file')}
            </span>
          </li>
        ))}
      </ul>
    </details>
  )
}

function percentOf({ covered, missed }: { covered: number; missed: number }): number {
  return covered + missed === 0 ? 0 : (covered / (covered + missed)) * 100
}

function changeInWords(change: number): string {
  const by = Math.abs(change).toFixed(1)
  return by === '0.0' ? 'as in' : `${by} ${change > 0 ? 'more' : 'fewer'} than in`
}
