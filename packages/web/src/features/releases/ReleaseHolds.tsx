import type { ReleaseContents } from '@dystracer/core/releases/contents-wire'
import { useState } from 'react'
import { plural } from '#shared/lib/format'
import { Choose } from '#shared/ui/fields'
import { Button, Pending, SectionHead, When } from '#shared/ui/parts'
import { Stair } from '#shared/ui/Stair'
import { ThingLink } from '#shared/ui/ThingLink'
import { useReleaseContentsQuery, useReleasesQuery } from './releases.api'

const AS_WORDS: Record<ReleaseContents['commits'][number]['as'], string> = {
  added: '',
  removed: 'no longer in',
  again: 'the other has it by another commit',
  undone: 'taken back before it was released',
}

/** What a release holds: against the one that it builds on, any other, or what runs somewhere. */
export function ReleaseHolds({ release, service, repository }: { release: string; service: string; repository: string }) {
  const [against, setAgainst] = useState('')
  const { data, error, isFetching } = useReleaseContentsQuery({ release, ...(against && { against }) })
  const { data: board } = useReleasesQuery()
  const own = board?.services.find((one) => one.service === service)
  const environments = (board?.environments ?? []).filter(({ environment }) =>
    own?.deployments.some((one) => one.environment === environment && one.state === 'running'),
  )
  const choices = [
    ...environments.map(({ environment }) => ({ value: environment, label: `what ${environment} runs` })),
    ...(own?.releases ?? [])
      .filter((one) => `${service}@${one.release}` !== release)
      .map((one) => ({ value: one.release, label: one.release })),
  ]
  return (
    <section aria-label="What it holds" className="border-t border-edge px-4 py-3">
      <div className="flex flex-wrap items-baseline gap-2">
        <SectionHead>What it holds against</SectionHead>
        <Choose
          aria-label="Held against"
          className="w-auto! border-0! py-0! text-[12px]"
          none={data?.against && against === '' ? `${data.against.release}, the release before` : 'the release before'}
          value={against}
          choices={choices}
          onChange={(event) => setAgainst(event.target.value)}
        />
      </div>
      <Pending error={error} isLoading={!data && isFetching} />
      {data && <Holds contents={data} repository={repository} />}
    </section>
  )
}

function Holds({ contents, repository }: { contents: ReleaseContents; repository: string }) {
  const { counts, items, lost, requirements, authors, files, dependencies, against } = contents
  return (
    <>
      {against === null && <p className="text-ink-2">It is the first release that is known, so it is held against nothing.</p>}
      {against?.runsIn && (
        <p className="text-ink-2">
          {against.runsIn} runs {against.release}.
        </p>
      )}
      <div className="flex flex-wrap gap-x-7 gap-y-1 py-1">
        <Figure count={items.length} label={items.length === 1 ? 'item' : 'items'} />
        <Figure count={requirements.length} label={requirements.length === 1 ? 'requirement' : 'requirements'} />
        <Figure
          count={counts.added}
          label={counts.added === 1 ? 'change' : 'changes'}
          note={counts.forNothing > 0 ? `${counts.forNothing} for no item` : ''}
        />
        {counts.removed > 0 && <Figure count={counts.removed} label="no longer in" isBad />}
        {dependencies.length > 0 && (
          <Figure count={dependencies.length} label={dependencies.length === 1 ? 'dependency' : 'dependencies'} />
        )}
      </div>
      {authors.length > 0 && <p className="text-ink-2">By {authors.map(({ name, commits }) => `${name} (${commits})`).join(', ')}.</p>}
      <Items label="Items in it" items={items} />
      {lost.length > 0 && (
        <>
          <p className="mt-2 font-bold text-fault">Fixed in the other, and not in this one</p>
          <Items label="Items that it lacks" items={lost} />
        </>
      )}
      <Paths label="The database changes" paths={files.schema} isWarned />
      <Paths label="Settings change" paths={files.settings} />
      {dependencies.length > 0 && (
        <p className="mt-1 text-ink-2">
          Dependencies:{' '}
          {dependencies
            .slice(0, 12)
            .map(({ name, from, to }) => `${name} ${from ?? 'new'} → ${to ?? 'gone'}`)
            .join(', ')}
          {dependencies.length > 12 && `, and ${dependencies.length - 12} more`}
        </p>
      )}
      <Commits contents={contents} repository={repository} />
    </>
  )
}

function Figure({ count, label, note = '', isBad = false }: { count: number; label: string; note?: string; isBad?: boolean }) {
  return (
    <p>
      <b className={`text-[18px] ${isBad ? 'text-fault' : ''}`}>{count}</b> {label}
      {note && <span className="block text-[12px] text-ochre">{note}</span>}
    </p>
  )
}

function Items({ label, items }: { label: string; items: ReleaseContents['items'] }) {
  if (items.length === 0) return null
  return (
    <ul aria-label={label} className="m-0 mt-1 list-none p-0">
      {items.map((item) => (
        <li key={item.key} className="flex items-center gap-3 border-b border-edge-soft py-1 last:border-0">
          <ThingLink to={{ kind: 'item', id: item.key }} />
          <span className="min-w-0 flex-1 truncate">{item.title}</span>
          <span className="shrink-0 text-[12px]">
            {item.requirements.slice(0, 3).map((key) => (
              <ThingLink key={key} to={{ kind: 'requirement', id: key }} className="ml-2" />
            ))}
          </span>
          <Stair stair={item.stair} hasComeBack={item.hasComeBack} isRejected={item.disposition !== null} />
        </li>
      ))}
    </ul>
  )
}

function Paths({ label, paths, isWarned = false }: { label: string; paths: readonly string[]; isWarned?: boolean }) {
  if (paths.length === 0) return null
  return (
    <p className={`mt-1 ${isWarned ? 'text-ochre' : 'text-ink-2'}`}>
      {label}: <span className="font-mono text-[12px]">{paths.slice(0, 8).join(', ')}</span>
      {paths.length > 8 && ` and ${plural(paths.length - 8, 'file')} more`}
    </p>
  )
}

function Commits({ contents, repository }: { contents: ReleaseContents; repository: string }) {
  const [isOpen, setIsOpen] = useState(false)
  const { commits, more } = contents
  if (commits.length === 0) return null
  return (
    <>
      <Button look="line" className="mt-1" aria-expanded={isOpen} onClick={() => setIsOpen(!isOpen)}>
        {isOpen ? 'Fold the commits' : `${plural(commits.length + more, 'commit')}, show`}
      </Button>
      {isOpen && (
        <ul aria-label="Commits" className="m-0 list-none p-0">
          {commits.map((commit) => (
            <li key={commit.sha} className="border-b border-edge-soft py-1">
              <ThingLink to={{ kind: 'commit', id: `${repository}/${commit.sha}` }} />{' '}
              <span className={commit.as === 'removed' || commit.as === 'undone' ? 'line-through' : ''}>{commit.subject}</span>
              <span className="block text-[12px] text-ink-2">
                {commit.author}, <When atMs={commit.atMs} />
                {commit.items.map((key) => (
                  <ThingLink key={key} to={{ kind: 'item', id: key }} className="ml-2" />
                ))}
                {commit.items.length === 0 && <span className="ml-2 text-ochre">for no item</span>}
                {AS_WORDS[commit.as] && <span className="ml-2">{AS_WORDS[commit.as]}</span>}
              </span>
            </li>
          ))}
          {more > 0 && <li className="py-1 text-ink-2">and {plural(more, 'commit')} more</li>}
        </ul>
      )}
    </>
  )
}
