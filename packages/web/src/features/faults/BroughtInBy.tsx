import type { FaultCauses } from '@dystracer/core/faults/causes-wire'
import { SuspectList } from '#features/code/index'
import { Pending, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useFaultCausesQuery } from './faults.api'

const GAP_WORDS: Record<NonNullable<FaultCauses['gap']>, string> = {
  'no-repository': 'The service is connected to no repository, so nobody can say.',
  'no-release': 'It was never sent with a release, so nobody can say since when it is there.',
  'unknown-release': 'The release in which it was seen first has no tag here, so what it brought is not known.',
  'first-release': 'The first release that is known has it already, so no commit can be told from the others.',
  'no-commits': 'Nothing came between the release before and the first that has it: what changed lies outside the code, or below it.',
  'no-git': 'Git could not tell at the moment.',
}

/** What came between the last release without the fault and the first with it, likeliest cause first. */
export function BroughtInBy({ fault, service }: { fault: string; service: string }) {
  const { data, error, isLoading } = useFaultCausesQuery(fault)
  return (
    <section aria-label="Brought in by" className="border-t border-edge px-4 py-3">
      <SectionHead>Perhaps brought in by</SectionHead>
      <Pending error={error} isLoading={isLoading} />
      {data && (
        <>
          <Between service={service} causes={data} />
          {data.gap !== null && <p className="text-ink-2">{GAP_WORDS[data.gap]}</p>}
          {data.repository !== null && <SuspectList repository={data.repository} suspects={data.suspects} />}
        </>
      )}
    </section>
  )
}

function Between({ service, causes: { lastGood, firstBad, cameWith } }: { service: string; causes: FaultCauses }) {
  if (!firstBad) return null
  const release = (name: string) => <ThingLink to={{ kind: 'release', id: `${service}@${name}` }}>{name}</ThingLink>
  return (
    <p className="mb-1 text-ink-2">
      First seen in {release(firstBad.release)}
      {cameWith && (
        <>
          , which went to {cameWith.environment} <When atMs={cameWith.atMs} />
        </>
      )}
      {lastGood && <>; {release(lastGood.release)} was the last without it</>}.
    </p>
  )
}
