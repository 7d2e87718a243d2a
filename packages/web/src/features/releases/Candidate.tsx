import { preparedBy } from '@dystracer/core/releases/next-names'
import type { Release } from '@dystracer/core/releases/wire'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Button } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useMakeReleaseMutation, useReleasesQuery } from './releases.api'

/** That a release is a candidate for another, and the way to release the same code under that name. */
export function Candidate({ release: { service, release, sha, tag, withdrawn } }: { release: Release }) {
  const { may } = usePeople()
  const trail = usePaneTrail()
  const { data: board } = useReleasesQuery()
  const [make, { isLoading }] = useMakeReleaseMutation()
  const name = preparedBy(release)
  if (name === null) return null
  const id = `${service}@${name}`
  const isReleased = board?.services.find((one) => one.service === service)?.releases.some((one) => one.release === name)
  const prefix = tag.slice(0, tag.length - release.length)
  return (
    <p className="mt-1">
      A candidate for {isReleased ? <ThingLink to={{ kind: 'release', id }}>{name}</ThingLink> : <b>{name}</b>}, which{' '}
      {isReleased ? 'was released since.' : 'is not released yet.'}{' '}
      {!isReleased && withdrawn === null && may('releases.make') && (
        <Button
          look="line"
          disabled={isLoading}
          onClick={() =>
            void make({ service, name, sha }).then((result) => {
              tellRefusal(result)
              if (result.error) return
              toast.success(`${service} ${name} is made`)
              trail.open({ kind: 'release', id })
            })
          }
        >
          release this code as {prefix}
          {name}
        </Button>
      )}
    </p>
  )
}
