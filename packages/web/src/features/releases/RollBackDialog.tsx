import { useState } from 'react'
import { toast } from 'sonner'
import { toChoices } from '#shared/lib/choices'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field } from '#shared/ui/fields'
import { Button, Pending } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useDeployMutation, useReleaseContentsQuery, useReleasesQuery } from './releases.api'

/** Brings back a release that ran there before, after saying what is lost by it. */
export function RollBackDialog({
  service,
  environment,
  from,
  releases,
  onClose,
}: {
  service: string
  environment: string
  from: string
  /** Those that ran there, the newest first. */
  releases: readonly string[]
  onClose: () => void
}) {
  const [release, setRelease] = useState(releases[0] ?? '')
  const { data, error, isFetching } = useReleaseContentsQuery({ release: `${service}@${release}`, against: from })
  const { data: board } = useReleasesQuery()
  const [deploy, { isLoading }] = useDeployMutation()
  const needsApproval = board?.environments.find((one) => one.environment === environment)?.needsApproval ?? false
  const submit = async () => {
    const result = await deploy({ service, release, environment })
    if (result.error) return void toast.error(problemText(result.error))
    toast.success(needsApproval ? `${release} waits for an approval` : `${release} goes back to ${environment}`)
    onClose()
  }
  const schema = data?.files.schema ?? []
  return (
    <Dialog title={`Roll ${service} back in ${environment}`} isOpen onClose={onClose}>
      <div className="space-y-3 px-4 py-3">
        <Field label={`${from} runs there. Back to`}>
          <Choose value={release} choices={toChoices(releases)} onChange={(event) => setRelease(event.target.value)} />
        </Field>
        <Pending error={error} isLoading={isFetching} />
        {data && !isFetching && (
          <div role="status" className="space-y-1">
            <p>
              {data.counts.removed === 0
                ? 'It takes back no change.'
                : `It takes back ` +
                  `${plural(data.counts.removed, 'change')} and ` +
                  `${plural(data.lost.length, 'item')}${data.lost.length > 0 ? ', which are no longer released there:' : '.'}`}
            </p>
            <ul aria-label="Taken back" className="m-0 max-h-[180px] list-none overflow-y-auto p-0">
              {data.lost.map((item) => (
                <li key={item.key} className="truncate">
                  <ThingLink to={{ kind: 'item', id: item.key }} /> {item.title}
                </li>
              ))}
            </ul>
            {schema.length > 0 && (
              <p className="text-fault">
                The database differs between the two: {schema.join(', ')}. Going back does not undo what was done to it.
              </p>
            )}
          </div>
        )}
        <Button look="main" disabled={isLoading || isFetching || release === ''} onClick={() => void submit()}>
          {needsApproval ? `Ask for ${release} in ${environment}` : `Bring ${release} back to ${environment}`}
        </Button>
      </div>
    </Dialog>
  )
}
