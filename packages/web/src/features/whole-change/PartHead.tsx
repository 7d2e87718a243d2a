import type { ChangePart } from '@dystracer/core/whole-change/wire'
import { useState } from 'react'
import { plural } from '#shared/lib/format'
import { Button, Quiet, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'

const WHY_LEFT_OUT: Record<ChangePart['leftOut'][number]['why'], string> = {
  merge: 'merges others',
  same: 'the same change as',
  squashed: 'came in as another commit',
  'given-up': 'its pull request was closed',
}

/** What a repository has of the change: its pull requests, its commits, and those that add nothing to it, with why. */
export function PartHead({ part }: { part: ChangePart }) {
  const { repository, pullRequests, commits, leftOut, strands, trouble } = part
  const [isOpen, setIsOpen] = useState(false)
  const idOf = (sha: string) => `${repository}/${sha}`
  return (
    <header className="px-4 pt-2 pb-1">
      <SectionHead>{repository}</SectionHead>
      {pullRequests.map(({ number, title, state }) => (
        <p key={number} className="m-0 leading-6">
          <ThingLink to={{ kind: 'pull-request', id: `${repository}/${number}` }} /> {title} <span className="text-ink-2">{state}</span>
        </p>
      ))}
      <Button look="line" className="my-0! text-[12px]" aria-expanded={isOpen} onClick={() => setIsOpen(!isOpen)}>
        {plural(commits.length, 'commit')}
        {leftOut.length > 0 && `, ${leftOut.length} more that add nothing`}
      </Button>
      {isOpen && (
        <ul className="m-0 list-none p-0" aria-label={`Commits in ${repository}`}>
          {commits.map(({ sha, subject, author, atMs, isOnMain }) => (
            <li key={sha} className="flex gap-2 leading-6">
              <ThingLink to={{ kind: 'commit', id: idOf(sha) }}>{sha.slice(0, 7)}</ThingLink>
              <span className="min-w-0 flex-1 truncate" title={subject}>
                {subject}
              </span>
              {!isOnMain && <span className="shrink-0 text-[12px] text-ink-2">not on the main line</span>}
              <span className="shrink-0 text-[12px] text-ink-3">
                {author}, <When atMs={atMs} />
              </span>
            </li>
          ))}
          {leftOut.map(({ sha, subject, why, of }) => (
            <li key={sha} className="flex gap-2 leading-6 text-ink-3">
              <ThingLink to={{ kind: 'commit', id: idOf(sha) }}>{sha.slice(0, 7)}</ThingLink>
              <span className="min-w-0 flex-1 truncate" title={subject}>
                {subject}
              </span>
              <span className="shrink-0 text-[12px]">
                {WHY_LEFT_OUT[why]} {of && <ThingLink to={{ kind: 'commit', id: idOf(of) }}>{of.slice(0, 7)}</ThingLink>}
              </span>
            </li>
          ))}
        </ul>
      )}
      {trouble !== null && <Quiet>{trouble}</Quiet>}
      {trouble === null && strands.length === 0 && <Quiet>Together they change nothing here.</Quiet>}
      {part.sheets.some(({ isCut }) => isCut) && <Quiet>The diff is longer than what is shown here; git has all of it.</Quiet>}
    </header>
  )
}
