import { createHash } from 'node:crypto'
import { createReadStream } from 'node:fs'
import { open, rename, stat } from 'node:fs/promises'
import { dirname } from 'node:path'
import { pipeline } from 'node:stream/promises'

/**
 * Puts a finished file in its place so that it is there after a power cut: its content is on the disk before it has its name, and the name
 * before this returns. Both must lie in one file system.
 */
export async function placeDurably(part: string, target: string): Promise<void> {
  await sync(part)
  await rename(part, target)
  await sync(dirname(target))
}

/** Whether a file is there and holds just this; a cut or altered one does not. Reads the whole file only when its size is right. */
export async function holdsJust(path: string, { sha256, sizeBytes }: { sha256: string; sizeBytes: number }): Promise<boolean> {
  try {
    if ((await stat(path)).size !== sizeBytes) return false
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return false
    throw error
  }
  const hash = createHash('sha256')
  await pipeline(createReadStream(path), hash)
  return hash.digest('hex') === sha256
}

async function sync(path: string): Promise<void> {
  const handle = await open(path, 'r')
  try {
    await handle.sync()
  } finally {
    await handle.close()
  }
}
