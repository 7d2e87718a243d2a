import type { ReactNode } from 'react'
import { addressOf } from '@dystracer/core/people/operation'
import { buildFilesOperations, type BuildFile } from '@dystracer/core/build-files/wire'
import { sizeText } from '#shared/lib/format'
import { SectionHead } from '#shared/ui/parts'

export interface Of {
  repository: string
  number: number
}

/** The files that something left, one below the other. */
export function FileList({ below, children }: { below?: ReactNode; children: ReactNode }) {
  return (
    <section aria-label="Files" className="border-t border-edge px-4 py-3">
      <SectionHead>Files</SectionHead>
      <ul className="m-0 list-none p-0">{children}</ul>
      {below}
    </section>
  )
}

/** A file that a build left: a way to it, what it holds by hash, how large it is and where it lies. */
export function FileRow({ of, file, children }: { of: Of; file: BuildFile; children?: ReactNode }) {
  return (
    <li className="flex gap-3 leading-6">
      <a className="link min-w-0 flex-1 truncate font-mono text-[12px]" href={addressOfFile(of, file)} {...outside(file)}>
        {file.name}
      </a>
      {children}
      {file.sha256 !== null && (
        <span className="font-mono text-[12px] text-ink-3" title={`SHA-256 ${file.sha256}`}>
          {file.sha256.slice(0, 12)}
        </span>
      )}
      <span className="w-[70px] shrink-0 text-right text-ink-2">
        {file.url === null
          ? sizeText(file.sizeBytes ?? 0)
          : file.sizeBytes === null
            ? 'elsewhere'
            : `${sizeText(file.sizeBytes)}, elsewhere`}
      </span>
    </li>
  )
}

function addressOfFile({ repository, number }: Of, { url, fileId }: BuildFile): string {
  return url ?? `/api/v1${addressOf(buildFilesOperations.readBuildFile, { params: { repository, number: String(number), fileId } })}`
}

/** What lies elsewhere opens beside, and is told nothing of where it was opened from. */
const outside = ({ url }: BuildFile) => (url === null ? {} : { target: '_blank', rel: 'noreferrer noopener' })
