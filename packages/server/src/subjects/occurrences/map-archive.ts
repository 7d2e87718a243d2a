import { gunzipSync } from 'node:zlib'
import { Problem } from '@dystracer/core/basics/problem'
import { unzipSync } from 'fflate'
import { extract } from 'tar-stream'

export interface MapFile {
  /** Where it lies in the artefact. */
  path: string
  text: string
}

/** One artefact may hold so many maps, and they and the files around them so much. */
const MAPS_MAX = 2000
const INFLATED_MAX_BYTES = 512 << 20
const MAP_MAX_BYTES = 64 << 20
const GZIP = [0x1f, 0x8b]
const ZIP = [0x50, 0x4b, 0x03, 0x04]

/**
 * The source maps in what a build made: a tar archive (gzipped or not), a zip archive, or a single map. Null when the bytes are no archive.
 * Nothing is written to disk, so that names in an archive
 * lead nowhere. Throws `too-large` for one that inflates too far, `malformed-body` for a broken one.
 */
export async function readMapArchive(bytes: Buffer): Promise<MapFile[] | null> {
  if (begins(bytes, ZIP)) return readZip(bytes)
  const plain = begins(bytes, GZIP) ? inflate(bytes) : bytes
  return plain.toString('latin1', 257, 262) === 'ustar' ? readTar(plain) : null
}

function begins(bytes: Buffer, mark: readonly number[]): boolean {
  return mark.every((byte, at) => bytes[at] === byte)
}

function inflate(bytes: Buffer): Buffer {
  try {
    return gunzipSync(bytes, { maxOutputLength: INFLATED_MAX_BYTES })
  } catch (error) {
    throw (error as NodeJS.ErrnoException).code === 'ERR_BUFFER_TOO_LARGE' ? tooLarge() : broken(error)
  }
}

async function readTar(bytes: Buffer): Promise<MapFile[]> {
  const maps: MapFile[] = []
  const archive = extract()
  archive.end(bytes)
  try {
    for await (const entry of archive) {
      const isMap = entry.header.type === 'file' && isMapName(entry.header.name) && (entry.header.size ?? 0) <= MAP_MAX_BYTES
      const chunks: Buffer[] = []
      for await (const chunk of entry) if (isMap) chunks.push(chunk as Buffer)
      if (isMap) maps.push({ path: entry.header.name, text: Buffer.concat(chunks).toString('utf8') })
      if (maps.length > MAPS_MAX) throw tooLarge()
    }
  } catch (error) {
    throw error instanceof Problem ? error : broken(error)
  }
  return maps
}

function readZip(bytes: Buffer): MapFile[] {
  let sizeBytes = 0
  let maps = 0
  try {
    const files = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (!isMapName(name) || originalSize > MAP_MAX_BYTES) return false
        sizeBytes += originalSize
        if (sizeBytes > INFLATED_MAX_BYTES || ++maps > MAPS_MAX) throw tooLarge()
        return true
      },
    })
    return Object.entries(files).map(([path, content]) => ({ path, text: Buffer.from(content).toString('utf8') }))
  } catch (error) {
    throw error instanceof Problem ? error : broken(error)
  }
}

function isMapName(path: string): boolean {
  return /\.map$/i.test(path)
}

function tooLarge(): Problem {
  return new Problem('too-large', {
    detail: `The artefact holds more than ${MAPS_MAX} source maps, or more than ${INFLATED_MAX_BYTES >> 20} MB.`,
  })
}

function broken(cause: unknown): Problem {
  return new Problem('malformed-body', { detail: 'This archive cannot be read; send a tar or zip archive, gzipped or not.', cause })
}
