import type { ProblemDetails } from '@dystracer/core/basics/wire'
import type { Attachment } from '@dystracer/core/talk/wire'
import { apiAddress, fileHeaders, unreachable } from '#shared/lib/api'

/**
 * Sends a file with progress from 0 to 1; the answer is the attachment, the failure a problem. `fetch` tells no progress of what it sends.
 */
export function uploadFile(
  key: string,
  file: File,
  onProgress: (share01: number) => void,
  signal?: AbortSignal,
): Promise<{ data: Attachment } | { error: ProblemDetails }> {
  return new Promise((resolve) => {
    const request = new XMLHttpRequest()
    const broken = { error: unreachable('The upload broke off', `${file.name} was not stored. Send it again.`) }
    request.open('POST', apiAddress('addAttachment', { params: { key }, query: { name: file.name || 'clipboard.png' } }))
    for (const [name, value] of Object.entries(fileHeaders())) request.setRequestHeader(name, value)
    request.upload.onprogress = (event) => onProgress(event.lengthComputable ? event.loaded / event.total : 0)
    request.onload = () => {
      const body = JSON.parse(request.responseText || '{}') as Attachment & ProblemDetails
      resolve(request.status < 300 ? { data: body } : { error: body })
    }
    request.onerror = () => resolve(broken)
    request.onabort = () => resolve(broken)
    signal?.addEventListener('abort', () => request.abort())
    request.send(file)
  })
}

export function fileUrl(key: string, attachmentId: string, kind: 'file' | 'thumbnail' = 'file'): string {
  return apiAddress(kind === 'file' ? 'readAttachmentFile' : 'readAttachmentThumbnail', { params: { key, attachmentId } })
}
