import { useState } from 'react'
import { toast } from 'sonner'
import { useRepositoriesQuery } from '#features/code/code.api'
import { usePeople } from '#features/people/index'
import { problemText } from '#shared/lib/problem-text'
import { Choose } from '#shared/ui/fields'
import { Button, Pending, SectionHead } from '#shared/ui/parts'
import { GateTrial } from './GateTrial'
import { useMergeGatesQuery, useSetMergeGatesMutation } from './reviews.api'

const AGREEMENTS = ['0', '1', '2', '3'] as const
const AGREEMENT_WORDS: Record<(typeof AGREEMENTS)[number], string> = { 0: 'nobody', 1: 'one person', 2: 'two people', 3: 'three people' }

/** What has to hold before a merge, for each repository, as the sentence that it is: its words are the controls. */
export function MergeGates() {
  const { data, error, isLoading } = useRepositoriesQuery()
  return (
    <section aria-label="Before a merge">
      <SectionHead>Before a merge</SectionHead>
      <p className="mb-1 text-ink-2">A build that broke and somebody who asks for changes always stand in the way.</p>
      <Pending error={error} isLoading={isLoading} />
      <ul className="m-0 list-none p-0">
        {data?.rows.map(({ repository }) => (
          <GatesOf key={repository} repository={repository} />
        ))}
      </ul>
    </section>
  )
}

function GatesOf({ repository }: { repository: string }) {
  const { data } = useMergeGatesQuery(repository)
  const [set] = useSetMergeGatesMutation()
  const { may } = usePeople()
  const [isTried, setIsTried] = useState(false)
  if (!data) return null
  const canEdit = may('gates.set')
  const change = (more: Partial<typeof data>) =>
    void set({ repository, ...data, ...more }).then((result) => {
      if (result.error) toast.error(problemText(result.error))
      else toast.success(`Saved for ${repository}`)
    })
  return (
    <li className="flex flex-wrap items-center gap-2 border-b border-edge-soft py-1">
      In <b>{repository}</b>
      <Choose
        aria-label={`How many agree in ${repository}`}
        className="w-auto! py-0.5!"
        disabled={!canEdit}
        value={String(Math.min(data.agreements, 3)) as (typeof AGREEMENTS)[number]}
        choices={AGREEMENTS.map((value) => ({ value, label: AGREEMENT_WORDS[value] }))}
        onChange={({ target }) => change({ agreements: Number(target.value) })}
      />
      who wrote none of it agrees,
      <label className="flex items-center gap-1">
        <input
          type="checkbox"
          disabled={!canEdit}
          checked={data.needsSettled}
          onChange={({ target }) => change({ needsSettled: target.checked })}
        />
        every remark is settled,
      </label>
      <label className="flex items-center gap-1">
        <input
          type="checkbox"
          disabled={!canEdit}
          checked={data.needsItem}
          onChange={({ target }) => change({ needsItem: target.checked })}
        />
        an item is tied.
      </label>
      <Button
        look="line"
        aria-expanded={isTried}
        aria-label={`what it would have stopped: ${repository}`}
        onClick={() => setIsTried(!isTried)}
      >
        what it would have stopped
      </Button>
      {isTried && <GateTrial repository={repository} />}
    </li>
  )
}
