import { sizeText } from '#shared/lib/format'
import { lazy, Suspense, useState } from 'react'
import { toast } from 'sonner'
import { api } from '#shared/lib/api'
import { fileUrl, uploadFile } from './files'
import { useAttachmentsQuery, useRemoveAttachmentMutation } from './talk.api'
import { problemText } from '#shared/lib/problem-text'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { useAppDispatch } from '#shared/lib/store'
import { usePeople } from '#features/people/index'
import { Button, SectionHead } from '#shared/ui/parts'
import { FilePicker } from './FilePicker'

const Lightbox = lazy(() => import('#shared/ui/Lightbox').then((module) => ({ default: module.Lightbox })))

interface Upload {
  name: string
  share01: number
  abort: AbortController
}

/** Sends files to an item one after another, with progress that can be stopped. */
export function useUploads(key: string): { uploads: Upload[]; send: (files: readonly File[]) => void } {
  const [uploads, setUploads] = useState<Upload[]>([])
  const dispatch = useAppDispatch()
  const send = async (files: readonly File[]) => {
    for (const file of files) {
      const abort = new AbortController()
      const name = file.name || 'clipboard.png'
      setUploads((list) => [...list, { name, share01: 0, abort }])
      const result = await uploadFile(
        key,
        file,
        (share01) => setUploads((list) => list.map((entry) => (entry.abort === abort ? { ...entry, share01 } : entry))),
        abort.signal,
      )
      setUploads((list) => list.filter((entry) => entry.abort !== abort))
      if ('error' in result) toast.error(problemText(result.error))
      else dispatch(api.util.invalidateTags([{ type: 'Item', id: key }]))
    }
  }
  return { uploads, send: (files) => void send(files) }
}

export function AttachmentList({ itemKey }: { itemKey: string }) {
  const { data } = useAttachmentsQuery(itemKey)
  const [remove] = useRemoveAttachmentMutation()
  const people = usePeople()
  const { uploads, send } = useUploads(itemKey)
  const [shown, setShown] = useState(-1)
  const rows = data?.rows ?? []
  const pictures = rows.filter((row) => row.hasThumbnail)
  if (rows.length === 0 && !people.may('talk.write')) return null
  return (
    <section aria-label="Files" className="border-t border-edge px-4 py-3">
      <SectionHead>Files</SectionHead>
      <ul className="m-0 mb-1 flex list-none flex-wrap gap-2 p-0">
        {rows.map((row) => (
          <li key={row.attachmentId} className="w-[132px] border border-edge-soft p-1 text-[12px]">
            {row.hasThumbnail ? (
              <button
                type="button"
                className="block w-full"
                aria-label={`Show ${row.name}`}
                onClick={() => setShown(pictures.indexOf(row))}
              >
                <img src={fileUrl(itemKey, row.attachmentId, 'thumbnail')} alt="" className="h-[72px] w-full object-cover" />
              </button>
            ) : (
              <a className="link block truncate" href={fileUrl(itemKey, row.attachmentId)} download={row.name}>
                {row.name}
              </a>
            )}
            <span className="flex justify-between gap-1 text-ink-3">
              <span className="truncate">{row.hasThumbnail ? row.name : sizeText(row.sizeBytes)}</span>
              {people.may('talk.write') && (
                <button
                  type="button"
                  aria-label={`Remove ${row.name}`}
                  className="-my-0.5 size-6 shrink-0"
                  onClick={() => void remove({ key: itemKey, attachmentId: row.attachmentId }).then(tellRefusal)}
                >
                  ×
                </button>
              )}
            </span>
          </li>
        ))}
      </ul>
      {uploads.map((upload) => (
        <p key={upload.name} className="flex items-center gap-2 text-[12px]">
          <progress aria-label={`Sending ${upload.name}`} value={upload.share01} max={1} /> {upload.name}
          <Button look="text" onClick={() => upload.abort.abort()}>
            stop
          </Button>
        </p>
      ))}
      {people.may('talk.write') && <FilePicker files={[]} onChange={send} />}
      {shown >= 0 && (
        <Suspense fallback={null}>
          <Lightbox
            pictures={pictures.map((row) => ({ src: fileUrl(itemKey, row.attachmentId), alt: row.name }))}
            index={shown}
            onClose={() => setShown(-1)}
          />
        </Suspense>
      )}
    </section>
  )
}
