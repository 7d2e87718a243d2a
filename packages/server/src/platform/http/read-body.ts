import type { IncomingMessage } from 'node:http'
import { createBrotliDecompress, createGunzip, createInflate } from 'node:zlib'
import type { Transform } from 'node:stream'
import { Problem } from '@dystracer/core/basics/problem'

const INFLATERS: Record<string, () => Transform> = {
  gzip: createGunzip,
  'x-gzip': createGunzip,
  deflate: createInflate,
  br: createBrotliDecompress,
}

/** So much of all bodies together may lie in memory, as sent and as inflated. */
const HELD_MAX_BYTES = 256 << 20
let heldBytes = 0

/** Counts what a request holds in memory until it is answered; throws `busy` where all of them together would hold too much. */
function holder(request: IncomingMessage): (bytes: number) => void {
  let own = 0
  request.once('close', () => {
    heldBytes -= own
    own = 0
  })
  return (bytes) => {
    if (heldBytes + bytes > HELD_MAX_BYTES)
      throw new Problem('busy', {
        detail: 'Much is being sent at the moment. Nothing was stored; send it again.',
        headers: { 'retry-after': '5', connection: 'close' },
      })
    heldBytes += bytes
    own += bytes
  }
}

/**
 * The body, inflated, at most `limitBytes` long both as sent and as inflated. Throws `too-large`, `unsupported-content`, `malformed-body`,
 * and `busy` where the bodies of all requests together are large; a bomb is cut off at the limit.
 */
export async function readBody(request: IncomingMessage, limitBytes: number): Promise<Buffer> {
  const tooLarge = () =>
    new Problem('too-large', {
      detail: `This path takes at most ${limitBytes} bytes. Nothing was stored.`,
      headers: { connection: 'close' },
    })
  if (Number(request.headers['content-length'] ?? 0) > limitBytes) throw tooLarge()
  const encoding = (request.headers['content-encoding'] ?? 'identity').toLowerCase()
  const inflater = INFLATERS[encoding]?.()
  if (!inflater && encoding !== 'identity')
    throw new Problem('unsupported-content', { detail: `The encoding "${encoding}" is not taken; use gzip.` })
  const chunks: Buffer[] = []
  const hold = holder(request)
  let sent = 0
  let size = 0
  const guard = (async function* () {
    for await (const chunk of request as AsyncIterable<Buffer>) {
      sent += chunk.length
      if (sent > limitBytes) throw tooLarge()
      yield chunk
    }
  })()
  if (!inflater) {
    for await (const chunk of guard) {
      hold(chunk.length)
      chunks.push(chunk)
    }
    return Buffer.concat(chunks)
  }
  const { Readable, pipeline } = await import('node:stream')
  const piped = pipeline(Readable.from(guard), inflater, () => {})
  try {
    for await (const chunk of piped as AsyncIterable<Buffer>) {
      size += chunk.length
      if (size > limitBytes) throw tooLarge()
      hold(chunk.length)
      chunks.push(chunk)
    }
  } catch (error) {
    if (error instanceof Problem) throw error
    throw new Problem('malformed-body', { detail: `The body is not valid ${encoding}. Nothing was stored.`, cause: error })
  }
  return Buffer.concat(chunks)
}

const JSON_LIMIT_BYTES = 1 << 20

/** A JSON body of an API request. */
export async function readJsonBody(request: IncomingMessage, limitBytes = JSON_LIMIT_BYTES): Promise<unknown> {
  const type = (request.headers['content-type'] ?? '').split(';', 1)[0]?.trim().toLowerCase() ?? ''
  const body = await readBody(request, limitBytes)
  if (body.length === 0) return {}
  if (type !== 'application/json' && !type.endsWith('+json'))
    throw new Problem('unsupported-content', { detail: `Send application/json, not "${type || 'nothing'}".` })
  try {
    return JSON.parse(body.toString('utf8'))
  } catch (error) {
    throw new Problem('malformed-body', { detail: 'The body is not JSON.', cause: error })
  }
}
