import { SectionHead } from '#shared/ui/parts'
import { FileRow, type Of } from './FileRow'
import { ProvenanceLink } from './ReleaseFiles'
import { useBuildFiles } from './build-files.api'

/** The files that a build left, each with its size and what it holds by hash; nothing where it left none. */
export function BuildFiles({ repository, number, isRunning }: Of & { isRunning: boolean }) {
  const { data } = useBuildFiles({ repository, number: String(number) }, isRunning)
  if (!data || data.rows.length === 0) return null
  return (
    <section aria-label="Files" className="border-t border-edge px-4 py-3">
      <SectionHead>Files</SectionHead>
      <ul className="m-0 list-none p-0">
        {data.rows.map((file) => (
          <FileRow key={file.fileId} of={{ repository, number }} file={file} />
        ))}
      </ul>
      {data.rows.some(({ sha256 }) => sha256 !== null) && <ProvenanceLink repository={repository} number={number} />}
    </section>
  )
}
