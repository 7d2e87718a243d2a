import { createReadStream, existsSync } from 'node:fs'
import type { IncomingMessage } from 'node:http'
import { pictureMark } from '@dystracer/core/text/picture-mark'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { requireProject } from '#subjects/setup/index'
import type { OpenedAttachment } from './attachments.commands.js'
import { blobPath } from './blobs.js'
import { GET_KEPT_PICTURE } from './attachments.queries.js'
import { storeFile } from './store-file.js'

/** Keeps a picture that a text of a project is to show. Throws what `storeFile` throws, and `not-found`. */
export async function keepPicture(
  ctx: ServiceContext,
  who: Who,
  project: string,
  input: { name: string; request: IncomingMessage },
): Promise<{ pictureId: string; path: string; name: string }> {
  requireProject(ctx.db, project)
  const { name, mediaType, sizeBytes, sha256 } = await storeFile(ctx, input, { isPicture: true })
  const pictureId = ctx.newId()
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'picture-kept',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { pictureId, project, name, mediaType, sizeBytes, sha256 },
    })
  })
  return { pictureId, path: pictureMark(project, pictureId), name }
}

/** A picture that a text of a project shows. Throws `not-found`. */
export function openKeptPicture(ctx: ServiceContext, project: string, pictureId: string): OpenedAttachment {
  const row = sql(ctx.db, GET_KEPT_PICTURE).get<{ name: string; mediaType: string; sha256: string }>({ project, pictureId })
  const path = row ? blobPath(ctx.config.dataDir, row.sha256) : ''
  if (!row || !existsSync(path)) throw new Problem('not-found', { detail: 'This picture is not there.' })
  return { stream: createReadStream(path), isShown: true, ...row }
}
