import type { ProblemDetails } from '@dystracer/core/basics/wire'
import type { Import } from '@dystracer/core/imports/wire'
import { apiAddress, fileHeaders } from '#shared/lib/api'

/** Sends a file of items to be read; nothing is logged by that. */
export async function uploadImport(project: string, file: File): Promise<{ data: Import } | { error: ProblemDetails }> {
  const response = await fetch(apiAddress('beginImport', { params: { project }, query: { name: file.name } }), {
    method: 'POST',
    headers: fileHeaders(),
    body: file,
  })
  const body = (await response.json()) as Import & ProblemDetails
  return response.ok ? { data: body } : { error: body }
}
