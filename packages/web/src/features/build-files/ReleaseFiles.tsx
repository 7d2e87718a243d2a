import { addressOf } from '@dystracer/core/people/operation'
import { buildFilesOperations } from '@dystracer/core/build-files/wire'
import { SectionHead } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { FileRow } from './FileRow'
import { useReleaseFilesQuery } from './build-files.api'

/** The files of a release: what builds of its commit left, each with its build; nothing where none left any. */
export function ReleaseFiles({ release }: { release: string }) {
  const { data } = useReleaseFilesQuery(release)
  if (!data || data.rows.length === 0) return null
  return (
    <section aria-label="Files" className="border-t border-edge px-4 py-3">
      <SectionHead>Files</SectionHead>
      <ul className="m-0 list-none p-0">
        {data.rows.map((file) => (
          <FileRow key={file.fileId} of={file} file={file}>
            <ThingLink to={{ kind: 'build', id: `${file.repository}/${file.number}` }} />
          </FileRow>
        ))}
      </ul>
    </section>
  )
}

/** A way to the signed statement of where the files of a build come from. */
export function ProvenanceLink({ repository, number }: { repository: string; number: number }) {
  const address = addressOf(buildFilesOperations.readProvenance, { params: { repository, number: String(number) } })
  return (
    <p className="mt-1 text-[12px] text-ink-2">
      Where they come from, signed (in-toto, SLSA):{' '}
      <a className="link" href={`/api/v1${address}`} download={`${repository}-${number}.intoto.json`}>
        provenance
      </a>
      ; <span className="font-mono">dys verify FILE</span> says of any copy which build left it.
    </p>
  )
}
