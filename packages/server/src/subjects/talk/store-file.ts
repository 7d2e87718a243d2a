import { createHash } from 'node:crypto'
import { createWriteStream } from 'node:fs'
import { mkdir, open, rm } from 'node:fs/promises'
import { basename, join } from 'node:path'
import type { IncomingMessage } from 'node:http'
import { pipeline } from 'node:stream/promises'
import { fileTypeFromFile } from 'file-type'
import sharp from 'sharp'
import { Problem } from '@dystracer/core/basics/problem'
import { holdsJust, placeDurably } from '#platform/files/durable'
import type { ServiceContext } from '#platform/context'
import { blobPath } from './blobs.js'

const FILE_MAX_BYTES = 50 << 20
const THUMBNAIL_PX = 320
/** A picture may unfold to at most this many points; more is a bomb. */
const PIXELS_MAX = 60_000_000
/** What a browser may show by itself; everything else is only offered for saving. */
export const SHOWN = new Set(['image/png', 'image/jpeg', 'image/gif', 'image/webp'])
/** Kinds by content that are told apart from their names; text has no signature. */
const NAME_BY_TYPE: Record<string, RegExp> = {
  'image/png': /\.png$/i,
  'image/jpeg': /\.jpe?g$/i,
  'image/gif': /\.gif$/i,
  'image/webp': /\.webp$/i,
  'application/pdf': /\.pdf$/i,
}

/** A file that is stored, by what it holds. */
export interface StoredFile {
  name: string
  mediaType: string
  sizeBytes: number
  sha256: string
  hasThumbnail: boolean
}

/**
 * Stores a file as it streams in: at most 50 MB, its kind read from its content, once by content. Nothing is kept of an upload that breaks
 * off, nor of what is no picture where only those are taken. Throws `too-large`, `invalid-input` (a name that lies about a picture or
 * document, no picture).
 */
export async function storeFile(
  ctx: ServiceContext,
  input: { name: string; request: IncomingMessage },
  { isPicture = false }: { isPicture?: boolean } = {},
): Promise<StoredFile> {
  const name = cleanName(input.name)
  const part = join(ctx.config.dataDir, 'blobs', `part-${ctx.newId()}`)
  await mkdir(join(ctx.config.dataDir, 'blobs'), { recursive: true })
  try {
    const { sha256, sizeBytes } = await receive(input.request, part)
    if (sizeBytes === 0) throw new Problem('invalid-input', { fields: { file: 'The file is empty' } })
    const mediaType = await mediaTypeOf(part, name)
    if (isPicture && !SHOWN.has(mediaType))
      throw new Problem('invalid-input', { fields: { file: `${name} is no picture: PNG, JPEG, GIF and WebP are taken` } })
    const hasThumbnail = SHOWN.has(mediaType) && (await makeThumbnail(ctx, part, sha256))
    const target = blobPath(ctx.config.dataDir, sha256)
    await mkdir(join(target, '..'), { recursive: true })
    // The same file may be there already; one that a crash cut short is put right by the new copy.
    if (await holdsJust(target, { sha256, sizeBytes })) await rm(part)
    else await placeDurably(part, target)
    return { name, mediaType, sizeBytes, sha256, hasThumbnail }
  } catch (error) {
    await rm(part, { force: true })
    throw error
  }
}

/** A name without folders, control characters and trailing dots; at most 200 characters. */
function cleanName(text: string): string {
  const name = basename(text.replaceAll('\\', '/'))
    .replace(/[\u0000-\u001f\u007f\u202a-\u202e\u2066-\u2069]/g, '')
    .replace(/[. ]+$/, '')
    .slice(-200)
  if (name === '') throw new Problem('invalid-input', { fields: { name: 'The file needs a name' } })
  return name
}

async function receive(request: IncomingMessage, path: string): Promise<{ sha256: string; sizeBytes: number }> {
  const hash = createHash('sha256')
  let sizeBytes = 0
  const tooLarge = () =>
    new Problem('too-large', { detail: 'A file may have at most 50 MB. Nothing was stored.', headers: { connection: 'close' } })
  if (Number(request.headers['content-length'] ?? 0) > FILE_MAX_BYTES) throw tooLarge()
  try {
    await pipeline(
      request,
      async function* (chunks: AsyncIterable<Buffer>) {
        for await (const chunk of chunks) {
          sizeBytes += chunk.length
          if (sizeBytes > FILE_MAX_BYTES) throw tooLarge()
          hash.update(chunk)
          yield chunk
        }
      },
      createWriteStream(path),
    )
  } catch (error) {
    if (error instanceof Problem) throw error
    throw new Problem('malformed-body', { detail: 'The upload broke off. Nothing was stored; send the file again.', cause: error })
  }
  return { sha256: hash.digest('hex'), sizeBytes }
}

/** The kind by content. A file whose name says picture or PDF and whose content does not is refused; text is text, whatever it claims. */
async function mediaTypeOf(path: string, name: string): Promise<string> {
  const found = (await fileTypeFromFile(path))?.mime
  for (const [type, pattern] of Object.entries(NAME_BY_TYPE))
    if (pattern.test(name) && found !== type)
      throw new Problem('invalid-input', {
        fields: { file: `${name} is not what its name says: its content is ${found ?? 'something else'}` },
      })
  if (found) return found === 'application/xml' ? 'application/octet-stream' : found
  return (await looksLikeText(path)) ? 'text/plain' : 'application/octet-stream'
}

async function looksLikeText(path: string): Promise<boolean> {
  const file = await open(path)
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(4096), 0, 4096, 0)
    return !buffer.subarray(0, bytesRead).includes(0)
  } finally {
    await file.close()
  }
}

async function makeThumbnail(ctx: ServiceContext, path: string, sha256: string): Promise<boolean> {
  const target = blobPath(ctx.config.dataDir, sha256, 'thumbnail')
  await mkdir(join(target, '..'), { recursive: true })
  try {
    await sharp(path, { limitInputPixels: PIXELS_MAX, animated: false })
      .rotate()
      .resize(THUMBNAIL_PX, THUMBNAIL_PX, { fit: 'inside', withoutEnlargement: true })
      .webp({ quality: 80 })
      .toFile(target)
    return true
  } catch (error) {
    // A picture that cannot be drawn (broken, or far too many points) is kept as a file without a thumbnail.
    ctx.log.info({ err: error }, 'no thumbnail')
    await rm(target, { force: true })
    return false
  }
}
