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
  return (await sha256Of(path)) === sha256
}

/** The SHA-256 of what a file holds, read piece by piece. */
export async function sha256Of(path: string): Promise<string> {
  const hash = createHash('sha256')
  await pipeline(createReadStream(path), hash)
  return hash.digest('hex')
}

async function sync(path: string): Promise<void> {
  const handle = await open(path, 'r')
  try {
    await handle.sync()
  } finally {
    await handle.close()
  }
}
