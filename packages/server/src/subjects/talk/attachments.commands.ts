import { existsSync, type ReadStream, createReadStream } from 'node:fs'
import type { IncomingMessage } from 'node:http'
import { Problem } from '@dystracer/core/basics/problem'
import type { Attachment } from '@dystracer/core/talk/wire'
import { sql } from '#platform/db/statements'
import { blobPath } from './blobs.js'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { projectOf, requireRight } from '#subjects/people/index'
import { requireItem } from '#subjects/records/index'
import { GET_ATTACHMENT_BY_ATTACHMENT_ID, LIST_ATTACHMENT_BY_KEY } from './attachments.queries.js'
import { SHOWN, storeFile } from './store-file.js'

/**
 * Takes a file as it streams in, and keeps it at an item. Nothing is kept of an upload that breaks off. Throws what `storeFile` throws, and
 * `not-found`.
 */
export async function addAttachment(
  ctx: ServiceContext,
  who: Who,
  key: string,
  input: { name: string; request: IncomingMessage },
): Promise<Attachment> {
  requireItem(ctx, key)
  const { sha256, ...file } = await storeFile(ctx, input)
  const attachmentId = ctx.newId()
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'attachment-added',
      actor: who.actor,
      subjects: [`item:${key}`],
      body: { attachmentId, key, ...file, sha256 },
    })
  })
  return { attachmentId, ...file, by: who.actor, atMs: ctx.nowMs() }
}

interface AttachmentRow {
  attachment_id: string
  item_key: string
  name: string
  media_type: string
  size_bytes: number
  sha256: string
  has_thumbnail: number
  by: string
  at_ms: number
}

export function listAttachments(ctx: Pick<ServiceContext, 'db'>, key: string): Attachment[] {
  return sql(ctx.db, LIST_ATTACHMENT_BY_KEY)
    .all<AttachmentRow>({ key })
    .map((row) => ({
      attachmentId: row.attachment_id,
      name: row.name,
      mediaType: row.media_type,
      sizeBytes: row.size_bytes,
      hasThumbnail: row.has_thumbnail === 1,
      by: row.by,
      atMs: row.at_ms,
    }))
}

export interface OpenedAttachment {
  stream: ReadStream
  mediaType: string
  /** Whether a browser may show it; otherwise it is only saved. */
  isShown: boolean
  name: string
  sha256: string
}

/** A file or its thumbnail, for those who may see its item (the caller has checked). Throws `not-found`. */
export function openAttachment(ctx: ServiceContext, key: string, attachmentId: string, kind: 'file' | 'thumbnail'): OpenedAttachment {
  const row = sql(ctx.db, GET_ATTACHMENT_BY_ATTACHMENT_ID).get<AttachmentRow>({
    attachmentId,
  })
  const path = row ? blobPath(ctx.config.dataDir, row.sha256, kind) : ''
  if (row?.item_key !== key || !existsSync(path)) throw new Problem('not-found', { detail: 'This file is not there.' })
  const mediaType = kind === 'thumbnail' ? 'image/webp' : row.media_type
  return { stream: createReadStream(path), mediaType, isShown: SHOWN.has(mediaType), name: row.name, sha256: row.sha256 }
}

export function removeAttachment(ctx: ServiceContext, who: Who, key: string, attachmentId: string): void {
  const row = listAttachments(ctx, key).find((entry) => entry.attachmentId === attachmentId)
  if (!row) throw new Problem('not-found', { detail: 'This file is not there.' })
  if (row.by !== who.actor) requireRight(who, 'talk.moderate', projectOf(key))
  ctx.journal.write((writer) => {
    writer.append({ kind: 'attachment-removed', actor: who.actor, subjects: [`item:${key}`], body: { attachmentId, key, name: row.name } })
  })
}
