import type { FileDetail } from '@dystracer/core/files/wire'
import { useState } from 'react'
import { plural } from '#shared/lib/format'
import { Button, When } from '#shared/ui/parts'
import { Stair } from '#shared/ui/Stair'
import { ThingLink } from '#shared/ui/ThingLink'

const FEW = 3

/** What hangs on a file: requirements, items, faults, commits and who knows it; the first few of each, all on request. */
export function FileFacts({ file }: { file: FileDetail }) {
  const [isAll, setIsAll] = useState(false)
  const few = <Row,>(rows: readonly Row[]) => (isAll ? rows : rows.slice(0, FEW))
  const isMore = [file.requirements, file.items, file.faults, file.commits].some((rows) => rows.length > FEW)
  return (
    <div className={`space-y-1 px-4 py-2 ${isAll ? 'max-h-[50%] overflow-y-auto' : ''}`}>
      <p className="m-0">
        {plural(file.commitCount, 'commit')}
        {file.knowers.length > 0 && (
          <>
            {' '}
            · known best by{' '}
            {few(file.knowers).map(({ name, lines, commits }, at) => (
              <span key={name}>
                {at > 0 && ', '}
                {name} <span className="text-[12px] text-ink-3">{lines > 0 ? plural(lines, 'line') : plural(commits, 'commit')}</span>
              </span>
            ))}
          </>
        )}
      </p>
      {few(file.requirements).map(({ key, title, lines }) => (
        <p key={key} className="m-0 truncate font-serif text-[15px] leading-6">
          <ThingLink to={{ kind: 'requirement', id: key }} /> {title}{' '}
          <span className="font-sans text-[12px] text-ink-3">{plural(lines, 'line')}</span>
        </p>
      ))}
      {few(file.faults).map(({ fault, title }) => (
        <p key={fault} className="m-0 truncate leading-6">
          <ThingLink to={{ kind: 'fault', id: fault }} /> <span className="text-fault">{title}</span>
        </p>
      ))}
      {few(file.items).map((item) => (
        <p key={item.key} className="m-0 flex items-center gap-2 leading-6">
          <ThingLink to={{ kind: 'item', id: item.key }} />
          <span className="min-w-0 flex-1 truncate">{item.title}</span>
          <Stair stair={item.stair} isRejected={item.disposition !== null} hasComeBack={item.hasComeBack} />
        </p>
      ))}
      {isAll &&
        file.commits.map((commit) => (
          <p key={commit.sha} className="m-0 flex gap-2 text-[12px] leading-6 text-ink-2">
            <ThingLink to={{ kind: 'commit', id: `${file.repository}/${commit.sha}` }}>{commit.sha.slice(0, 7)}</ThingLink>
            <span className="min-w-0 flex-1 truncate">{commit.subject}</span>
            <When atMs={commit.atMs} />
          </p>
        ))}
      {(isMore || file.commits.length > 0) && (
        <Button look="line" className="my-0! text-[12px]" aria-expanded={isAll} onClick={() => setIsAll(!isAll)}>
          {isAll ? 'only the first of each' : 'all of it, with its commits'}
        </Button>
      )}
    </div>
  )
}
