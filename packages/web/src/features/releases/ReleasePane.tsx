import { ReleaseFiles } from '#features/build-files/index'
import { Artefacts } from '#features/builds/index'
import { ReleasePackages } from '#features/dependencies/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { Candidate } from './Candidate'
import { ReleaseHolds } from './ReleaseHolds'
import { ReleaseNotesPart } from './ReleaseNotesPart'
import { ReleaseRecord } from './ReleaseRecord'
import { useReleaseQuery } from './releases.api'
import { Withdrawal } from './Withdrawal'

/** A release: where it runs, what it holds, how it does, and what is said of it to others. */
export function ReleasePane({ id }: { id: string }) {
  const { data, error, isLoading } = useReleaseQuery(id)
  const trail = usePaneTrail()
  if (!data)
    return (
      <Pane label="Release" title={id}>
        <Pending error={error} isLoading={isLoading} />
      </Pane>
    )
  const release = `${data.service}@${data.release}`
  return (
    <Pane
      label={`Release ${data.release}`}
      title={
        <>
          {data.service} {data.release}
        </>
      }
      aside={
        <>
          <Button look="text" onClick={() => trail.open({ kind: 'maintenance', id: release })}>
            mend it…
          </Button>
          <Button look="text" onClick={() => trail.open({ kind: 'thread', id: `release:${id}` })}>
            thread
          </Button>
        </>
      }
    >
      <div className="px-4 py-3">
        <p>
          Tag <span className="font-mono text-[12px]">{data.tag}</span> at{' '}
          <ThingLink to={{ kind: 'commit', id: `${data.repository}/${data.sha}` }} />, <When atMs={data.atMs} />
          {data.isRewritten && <span className="text-ochre"> · its tag was moved</span>}
        </p>
        <p>{data.runsIn.length > 0 ? `Runs in ${data.runsIn.join(' and ')}` : 'Runs nowhere now'}</p>
        <Candidate release={data} />
        <Withdrawal release={data} />
      </div>
      <ReleaseHolds key={release} release={release} service={data.service} repository={data.repository} />
      <ReleaseRecord release={release} />
      <Artefacts release={release} />
      <ReleaseFiles release={release} />
      <ReleasePackages key={`packages of ${release}`} release={release} />
      <ReleaseNotesPart release={release} service={data.service} />
    </Pane>
  )
}
