import type { NoteReader } from '@dystracer/core/releases/write-notes'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { usePeople } from '#features/people/index'
import { Button, When } from '#shared/ui/parts'
import { useNotesPublicationQuery, usePublishNotesMutation, useWithdrawNotesMutation } from './releases.api'

/** Whether the notes of a release are published, for whom, and whether what is published still reads as they do. */
export function NotesPublication({ release, service, reader }: { release: string; service: string; reader: NoteReader }) {
  const { may } = usePeople()
  const { data } = useNotesPublicationQuery({ release, reader })
  const [publish, { isLoading }] = usePublishNotesMutation()
  const [withdraw] = useWithdrawNotesMutation()
  const canPublish = may('releases.make')
  if (!data || (!data.published && !canPublish)) return null
  const { published } = data
  const put = (isPublic: boolean) => void publish({ release, reader, isPublic }).then(tellRefusal)
  const address = `/notes/${encodeURIComponent(service)}${reader === 'users' ? '' : `?reader=${reader}`}`
  return (
    <p className="mt-2 flex flex-wrap items-baseline gap-x-3 gap-y-2 border-t border-edge-soft pt-2 text-[12px] text-ink-2">
      {published === null ? (
        <span>Not published.</span>
      ) : (
        <span>
          Published <When atMs={published.atMs} /> {published.isPublic ? 'for everybody' : 'for those who read the project'} at{' '}
          <a className="link" href={address}>
            {address}
          </a>
          {published.isPublic && (
            <>
              {' '}
              and as{' '}
              <a className="link" href={`/feeds/notes/${encodeURIComponent(service)}.atom?reader=${reader}`}>
                a feed
              </a>
            </>
          )}
          .{!published.isCurrent && <b className="text-ochre"> They have been changed since.</b>}
        </span>
      )}
      {canPublish && (
        <>
          {(published === null || !published.isCurrent) && (
            <Button look="line" disabled={isLoading} onClick={() => put(published?.isPublic ?? false)}>
              {published === null ? 'Publish them' : 'Publish them anew'}
            </Button>
          )}
          <Button look="line" disabled={isLoading} onClick={() => put(!(published?.isPublic ?? false))}>
            {published?.isPublic ? 'Only for those who read the project' : 'Publish them for everybody'}
          </Button>
          {published && (
            <Button look="line" onClick={() => void withdraw({ release, reader }).then(tellRefusal)}>
              Take them back
            </Button>
          )}
        </>
      )}
    </p>
  )
}
