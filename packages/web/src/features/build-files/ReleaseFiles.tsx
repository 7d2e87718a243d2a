import { ThingLink } from '#shared/ui/ThingLink'
import { FileList, FileRow } from './FileList'
import { useReleaseFilesQuery } from './build-files.api'

/** The files of a release: what builds of its commit left, each with its build; nothing where none left any. */
export function ReleaseFiles({ release }: { release: string }) {
  const { data } = useReleaseFilesQuery(release)
  if (!data || data.rows.length === 0) return null
  return (
    <FileList>
      {data.rows.map((file) => (
        <FileRow key={file.fileId} of={file} file={file}>
          <ThingLink to={{ kind: 'build', id: `${file.repository}/${file.number}` }} />
        </FileRow>
      ))}
    </FileList>
  )
}
