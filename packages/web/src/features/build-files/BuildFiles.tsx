import { addressOf } from '@dystracer/core/people/operation'
import { buildFilesOperations } from '@dystracer/core/build-files/wire'
import { FileList, FileRow, type Of } from './FileList'
import { useBuildFiles } from './build-files.api'

/** The files that a build left, each with its size and what it holds by hash; nothing where it left none. */
export function BuildFiles({ repository, number, isRunning }: Of & { isRunning: boolean }) {
  const { data } = useBuildFiles({ repository, number: String(number) }, isRunning)
  if (!data || data.rows.length === 0) return null
  const isAnyHashed = data.rows.some(({ sha256 }) => sha256 !== null)
  return (
    <FileList below={isAnyHashed && <ProvenanceLink repository={repository} number={number} />}>
      {data.rows.map((file) => (
        <FileRow key={file.fileId} of={{ repository, number }} file={file} />
      ))}
    </FileList>
  )
}

/** A way to the signed statement of where the files of a build come from. */
function ProvenanceLink({ repository, number }: { repository: string; number: number }) {
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
