import { groupBy } from '#basics/group-by'
import { readLockFile } from './lock-files.js'

/** A package whose version differs; null where it is not there. */
export interface LockChange {
  name: string
  from: string | null
  to: string | null
}

/**
 * What changed between two states of a lock file, by package; several versions of one package stand beside each other, joined by a comma. A
 * text that is no lock file counts as empty. Linear in the files, but for sorting.
 */
export function lockChanges(path: string, before: string, after: string): LockChange[] {
  const [old, fresh] = [versionsOf(path, before), versionsOf(path, after)]
  return [...new Set([...old.keys(), ...fresh.keys()])]
    .sort()
    .map((name) => ({ name, from: old.get(name) ?? null, to: fresh.get(name) ?? null }))
    .filter(({ from, to }) => from !== to)
}

function versionsOf(path: string, text: string): Map<string, string> {
  const byName = groupBy(readLockFile(path, text) ?? [], ({ name }) => name)
  return new Map([...byName].map(([name, packages]) => [name, packages.map(({ version }) => version).join(', ')]))
}
