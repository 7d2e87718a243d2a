import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { z } from 'zod'

const NAME = 'last-backup.json'
const zLastBackup = z.object({
  atMs: z.number().int(),
  file: z.string(),
  sizeBytes: z.number().int(),
  /** When it was restored for a trial, and came out clean; null while it was not. */
  rehearsedAtMs: z.number().int().nullable(),
})
export type LastBackup = z.infer<typeof zLastBackup>

/** What the data folder remembers of its newest backup; null before the first. */
export function readLast(dataDir: string): LastBackup | null {
  const path = join(dataDir, NAME)
  return existsSync(path) ? (zLastBackup.safeParse(JSON.parse(readFileSync(path, 'utf8'))).data ?? null) : null
}

export function noteLast(dataDir: string, last: LastBackup): void {
  writeFileSync(join(dataDir, NAME), JSON.stringify(last))
}
