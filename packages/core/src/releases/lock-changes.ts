import { z } from 'zod'

/** A package whose version differs; null where it is not there. */
export interface LockChange {
  name: string
  from: string | null
  to: string | null
}

const zLock = z.object({
  packages: z.record(z.string(), z.object({ version: z.string().optional(), link: z.boolean().optional() })).optional(),
  dependencies: z.record(z.string(), z.object({ version: z.string().optional() })).optional(),
})

/**
 * What changed between two lock files of npm (`package-lock.json`, versions 1 to 3), by package; several
 * versions of one package stand beside each other, joined by a comma. A text that is no lock file counts as
 * empty. Linear in the files.
 */
export function lockChanges(before: string, after: string): LockChange[] {
  const [old, fresh] = [versionsOf(before), versionsOf(after)]
  return [...new Set([...old.keys(), ...fresh.keys()])]
    .sort()
    .map((name) => ({ name, from: old.get(name) ?? null, to: fresh.get(name) ?? null }))
    .filter(({ from, to }) => from !== to)
}

function versionsOf(text: string): Map<string, string> {
  const versions = new Map<string, Set<string>>()
  const add = (name: string, version: string | undefined) => {
    if (version === undefined) return
    const known = versions.get(name)
    if (known) known.add(version)
    else versions.set(name, new Set([version]))
  }
  const lock = read(text)
  for (const [path, { version, link }] of Object.entries(lock?.packages ?? {}))
    if (path !== '' && link !== true) add(path.slice(path.lastIndexOf('node_modules/') + 'node_modules/'.length), version)
  if (lock?.packages === undefined) for (const [name, { version }] of Object.entries(lock?.dependencies ?? {})) add(name, version)
  return new Map([...versions].map(([name, known]) => [name, [...known].sort().join(', ')]))
}

function read(text: string): z.output<typeof zLock> | null {
  try {
    return zLock.safeParse(JSON.parse(text)).data ?? null
  } catch (error) {
    if (error instanceof SyntaxError) return null
    throw error
  }
}
