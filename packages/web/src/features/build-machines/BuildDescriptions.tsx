import type { BuildDescription } from '@dystracer/core/build-machines/wire'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { Button, Pending, SectionHead } from '#shared/ui/parts'
import { useBuildDescriptionQuery } from './build-machines.api'
import { DescriptionDialog } from './DescriptionDialog'
import { useConnected } from './use-connected'

/** How each repository says that it is built, in a line. */
export function BuildDescriptions() {
  const repositories = useConnected()
  return (
    <section aria-label="Build descriptions">
      <SectionHead>How it is built</SectionHead>
      <p className="m-0 text-ink-2">
        Each repository keeps that with its code, in <span className="font-mono text-[12px]">.dystracer/build.yml</span>: an old commit is
        built the old way.
      </p>
      {repositories.length === 0 && <p className="m-0 py-1">No repository is connected yet; that is done in Settings, Code.</p>}
      {repositories.map(({ name }) => (
        <DescriptionLine key={name} repository={name} />
      ))}
    </section>
  )
}

function DescriptionLine({ repository }: { repository: string }) {
  const { may } = usePeople()
  const { data, error, isLoading } = useBuildDescriptionQuery(repository)
  const [isOpen, setIsOpen] = useState(false)
  return (
    <div className="border-b border-edge-soft py-1">
      <p className="m-0 flex gap-3 leading-6">
        <b>{repository}</b>
        <span className={`min-w-0 flex-1 ${data && data.problems.length > 0 ? 'text-fault' : 'text-ink-2'}`}>{data && lineOf(data)}</span>
        {data && may('code.contribute') && data.sha !== null && (
          <Button look="line" className="my-0!" onClick={() => setIsOpen(true)}>
            {data.text === null ? 'Describe it…' : 'Change it…'}
          </Button>
        )}
      </p>
      <Pending error={error} isLoading={isLoading} />
      {isOpen && data && <DescriptionDialog repository={repository} description={data} onClose={() => setIsOpen(false)} />}
    </div>
  )
}

function lineOf({ sha, text, problems, plan, starts, suggestion, branch }: BuildDescription): string {
  if (sha === null) return `no commit on ${branch} yet`
  const [first] = problems
  if (first) return `cannot be followed: ${first.line === null ? '' : `line ${first.line}: `}${first.text}`
  if (text !== null && plan !== null) {
    const by =
      starts === null
        ? 'people start it'
        : starts.branches.includes('*')
          ? 'a push starts it'
          : `a push to ${starts.branches.join(', ')} starts it`
    return `${plural(plan.steps.length, 'step')}; ${by}`
  }
  return suggestion === null ? 'not described' : `not described; it holds ${suggestion.found.map(({ what }) => what).join(', ')}`
}
