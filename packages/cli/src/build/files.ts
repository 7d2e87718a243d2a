import { readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { filesMatching } from '@dystracer/core/build-machines/build-plan'

/** Never looked into: what is there is not of the build. */
const LEFT_OUT = new Set(['.git', 'node_modules', '.venv'])
const FILES_MAX = 200_000
/** Clocks of file systems are coarse. */
const CLOCK_MS = 2000

/** Paths of files below a folder that patterns name and that were written since, in their order. Links are not followed. */
export function writtenFiles(folder: string, patterns: readonly string[], sinceMs: number): string[] {
  if (patterns.length === 0) return []
  const paths: string[] = []
  const walk = (below: string) => {
    for (const entry of readdirSync(join(folder, below), { withFileTypes: true })) {
      if (paths.length >= FILES_MAX) return
      const path = below === '' ? entry.name : `${below}/${entry.name}`
      if (entry.isDirectory() && !LEFT_OUT.has(entry.name)) walk(path)
      else if (entry.isFile()) paths.push(path)
    }
  }
  walk('')
  return filesMatching(paths, patterns).filter((path) => statSync(join(folder, path)).mtimeMs >= sinceMs - CLOCK_MS)
}
