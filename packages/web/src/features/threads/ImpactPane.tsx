import type { Impact } from '@dystracer/core/threads/impact-wire'
import type { ReactNode } from 'react'
import { FileLink } from '#features/files/index'
import { plural } from '#shared/lib/format'
import { Pane } from '#shared/ui/Pane'
import { Pending, SectionHead, When } from '#shared/ui/parts'
import { Stair } from '#shared/ui/Stair'
import { ThingLink } from '#shared/ui/ThingLink'
import { useImpactQuery } from './threads.api'

const TONE: Readonly<Record<string, string>> = {
  passed: 'text-proof',
  failed: 'font-bold text-fault',
  flaky: 'text-ochre',
  blocked: 'text-ochre',
}

/** What a change of a requirement would reach, sized, each thing with a way to it. */
export function ImpactPane({ id }: { id: string }) {
  const { data, error, isLoading } = useImpactQuery(id)
  return (
    <Pane label={`If ${id} changes`} title={`If ${id} changes`}>
      <Pending error={error} isLoading={isLoading} />
      {data && <Reached impact={data} />}
    </Pane>
  )
}

function Reached({ impact }: { impact: Impact }) {
  const { refinedBy, items, files, moreFiles, tests, people, runs } = impact
  return (
    <div className="px-4 py-3">
      <p className="m-0 flex flex-wrap gap-x-6">
        <Size count={items.length} word="item" />
        <Size count={files.length + moreFiles} word="file" />
        <Size count={tests.length} word="test" />
        <Size count={people.length} word="person" words="people" />
        <Size count={runs.length} word="place where it runs" words="places where it runs" />
      </p>
      <Part name="Requirements that refine it" isEmpty={refinedBy.length === 0}>
        {refinedBy.map(({ key, title, steps }) => (
          <p key={key} className="m-0 py-0.5">
            <ThingLink to={{ kind: 'requirement', id: key }} /> <span className="font-serif">{title}</span>
            {steps > 1 && <span className="text-ink-2"> by others</span>}
          </p>
        ))}
      </Part>
      <Part name="Items" isEmpty={items.length === 0}>
        {items.map((item) => (
          <p key={`${item.of}${item.key}`} className="m-0 flex items-center gap-3 border-b border-edge-soft py-0.5">
            <ThingLink to={{ kind: 'item', id: item.key }} />
            <span className="min-w-0 flex-1 truncate">{item.title}</span>
            {item.of !== impact.key && <span className="text-[12px] text-ink-2">of {item.of}</span>}
            {item.linkKind === 'breaks' && (
              <span className={`text-[12px] ${item.stage === 'verified' ? 'text-ink-2' : 'text-fault'}`}>
                {item.stage === 'verified' ? 'broke it' : 'breaks it'}
              </span>
            )}
            <Stair stair={item.stair} hasComeBack={item.hasComeBack} />
          </p>
        ))}
      </Part>
      <Part name="Runs now" isEmpty={runs.length === 0}>
        {runs.map((run) => (
          <p key={`${run.service}${run.environment}`} className="m-0 py-0.5">
            {run.environment}: <ThingLink to={{ kind: 'release', id: `${run.service}@${run.release}` }} />{' '}
            <span className="text-ink-2">with {run.items.join(', ')}</span>
          </p>
        ))}
      </Part>
      <Part name="Tests" isEmpty={tests.length === 0}>
        {tests.map((test) => (
          <p key={`${test.of}${test.name}`} className="m-0 py-0.5">
            <span className={TONE[test.outcome] ?? 'text-ink-2'}>{test.outcome}</span> {test.name}
            {test.byHand && <span className="text-ink-2"> by hand</span>}
          </p>
        ))}
      </Part>
      <Part name="Files" isEmpty={files.length === 0}>
        {files.map((file) => (
          <p key={`${file.repository}${file.path}`} className="m-0 py-0.5">
            <FileLink repository={file.repository} path={file.path} />{' '}
            <span className="text-[12px] text-ink-2">
              {plural(file.commits, 'commit')}, last <When atMs={file.lastAtMs} />
            </span>
          </p>
        ))}
        {moreFiles > 0 && <p className="m-0 text-ink-2">and {moreFiles} more</p>}
      </Part>
      <Part name="People" isEmpty={people.length === 0}>
        {people.map(({ name, items: owned, commits }) => (
          <p key={name} className="m-0 py-0.5">
            {name}{' '}
            <span className="text-ink-2">
              {[owned > 0 && plural(owned, 'item'), commits > 0 && plural(commits, 'commit')].filter(Boolean).join(', ')}
            </span>
          </p>
        ))}
      </Part>
    </div>
  )
}

function Size({ count, word, words }: { count: number; word: string; words?: string }) {
  return (
    <span>
      <b className="text-[20px]">{count}</b> {count === 1 ? word : (words ?? `${word}s`)}
    </span>
  )
}

function Part({ name, isEmpty, children }: { name: string; isEmpty: boolean; children: ReactNode }) {
  return (
    <section aria-label={name} className="mt-4">
      <SectionHead>{name}</SectionHead>
      {isEmpty ? <p className="m-0 text-ink-2">None.</p> : children}
    </section>
  )
}
