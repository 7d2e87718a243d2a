import type { ItemCode as Code } from '@dystracer/core/files/wire'
import { useState } from 'react'
import { plural } from '#shared/lib/format'
import { Button, SectionHead, When } from '#shared/ui/parts'
import { usePaneTrail } from '#shared/lib/use-trail'
import { ThingLink } from '#shared/ui/ThingLink'
import { FileLink } from './FileLink'
import { useItemCodeQuery } from './files.api'

const FEW = 4

/**
 * The code of an item: its commits and the first release that holds each, its branches, pull
 * requests and files. Nothing where it has none.
 */
export function ItemCode({ itemKey }: { itemKey: string }) {
  const { data } = useItemCodeQuery(itemKey)
  const [isAll, setIsAll] = useState(false)
  const trail = usePaneTrail()
  if (!data || data.commits.length + data.branches.length + data.pullRequests.length === 0) return null
  const few = <Row,>(rows: readonly Row[]) => (isAll ? rows : rows.slice(0, FEW))
  const isMore = data.commits.length > FEW || data.files.length > FEW
  return (
    <section aria-label="Code" className="border-t border-edge px-4 py-3">
      <SectionHead>Code</SectionHead>
      {few(data.commits).map((commit) => (
        <p key={commit.sha} className="m-0 flex gap-2 leading-6">
          <ThingLink to={{ kind: 'commit', id: `${commit.repository}/${commit.sha}` }}>{commit.sha.slice(0, 7)}</ThingLink>
          <span className="min-w-0 flex-1 truncate" title={commit.subject}>
            {commit.subject}
          </span>
          <Standing commit={commit} />
          <span className="shrink-0 text-[12px] text-ink-3">
            <When atMs={commit.atMs} />
          </span>
        </p>
      ))}
      {data.pullRequests.map(({ repository, number, state }) => (
        <p key={`${repository}/${number}`} className="m-0 leading-6">
          <ThingLink to={{ kind: 'pull-request', id: `${repository}/${number}` }} />{' '}
          <span className="text-ink-2">
            {repository}, {state}
          </span>
        </p>
      ))}
      {data.branches.map(({ repository, name }) => (
        <p key={`${repository}/${name}`} className="m-0 leading-6">
          <ThingLink to={{ kind: 'branch', id: `${repository}/${name}` }}>{name}</ThingLink>{' '}
          <span className="text-ink-2">{repository}</span>
        </p>
      ))}
      {few(data.files).map(({ repository, path, changedSince }) => (
        <p key={`${repository}/${path}`} className="m-0 leading-6">
          <FileLink repository={repository} path={path} />{' '}
          {changedSince > 0 && <span className="text-[12px] text-ink-3">{plural(changedSince, 'commit')} since</span>}
        </p>
      ))}
      {data.commits.length > 0 && (
        <Button look="line" className="my-0! mr-3 text-[12px]" onClick={() => trail.open({ kind: 'whole-change', id: itemKey })}>
          the whole change
        </Button>
      )}
      {isMore && (
        <Button look="line" className="my-0! text-[12px]" aria-expanded={isAll} onClick={() => setIsAll(!isAll)}>
          {isAll ? 'only the first of each' : `all ${plural(data.commits.length, 'commit')} and ${plural(data.files.length, 'file')}`}
        </Button>
      )}
    </section>
  )
}

/** Where the change of a commit is in effect. */
function Standing({ commit: { isOnMain, release } }: { commit: Code['commits'][number] }) {
  if (release)
    return (
      <span className="shrink-0 text-[12px] text-ink-2">
        {release.isPick ? 'as a cherry-pick in' : 'in'} <ThingLink to={{ kind: 'release', id: release.id }}>{release.name}</ThingLink>
      </span>
    )
  if (isOnMain === null) return null
  return <span className="shrink-0 text-[12px] text-ink-2">{isOnMain ? 'on the main line' : 'not on the main line'}</span>
}
