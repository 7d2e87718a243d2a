import { stringify } from 'yaml'
import { ECOSYSTEMS, type FoundFiles, type SuggestedStep } from './ecosystems.js'

/** A description that fits what a repository holds, and what it was read from. */
export interface Suggestion {
  text: string
  /** What was found, such as `Node.js` by `web/package.json`. */
  found: { what: string; by: string }[]
  /** What a person should know before taking it. */
  notes: string[]
}

/** Where manifests are looked for: at the top, and in folders up to this depth. */
const DEPTH_MAX = 2
/** More parts than this are no description that a person would want. */
const PARTS_MAX = 12
const MANIFESTS = new RegExp(
  String.raw`(?:^|/)(?:package\.json|pyproject\.toml|setup\.py|requirements(?:-dev)?\.txt|pom\.xml|build\.gradle(?:\.kts)?|go\.mod|` +
    String.raw`Cargo\.toml|[^/]+\.(?:sln|csproj|fsproj)|CMakeLists\.txt|meson\.build|[Mm]akefile)$`,
)

/** Of the files of a repository those whose text a suggestion is made from, nearest to the top first. */
export function manifestsOf(paths: readonly string[]): string[] {
  return paths
    .filter(
      (path) => MANIFESTS.test(path) && depthOf(path) <= DEPTH_MAX && !/(?:^|\/)(?:node_modules|vendor|third_party|examples?)\//.test(path),
    )
    .sort((one, other) => depthOf(one) - depthOf(other) || (one < other ? -1 : 1))
    .slice(0, 60)
}

const depthOf = (path: string): number => path.split('/').length - 1

/**
 * Suggests how a repository is built by the manifests in it: each kind of program that it knows by its own commands. `texts` holds those of
 * `manifestsOf`, `paths` all files. Null where nothing is known. A folder whose parent is built by the same kind is a part of it.
 */
export function suggestDescription(paths: readonly string[], texts: ReadonlyMap<string, string>): Suggestion | null {
  const found: Suggestion['found'] = []
  const notes = new Set<string>()
  const parts: { folder: string; what: string; steps: SuggestedStep[] }[] = []
  for (const ecosystem of ECOSYSTEMS) {
    const folders: string[] = []
    for (const path of manifestsOf(paths)) {
      const folder = path.includes('/') ? path.slice(0, path.lastIndexOf('/')) : ''
      if (!ecosystem.manifest.test(path) || folders.some((above) => isBelow(folder, above))) continue
      const part = ecosystem.read(filesIn(folder, paths, texts))
      if (part === null || part.steps.length === 0) continue
      folders.push(folder)
      found.push({ what: ecosystem.name, by: path })
      for (const note of part.notes ?? []) notes.add(note)
      parts.push({ folder, what: ecosystem.name, steps: part.steps })
    }
  }
  // A Makefile beside what is known already is another way to say the same.
  const real = parts.filter(
    ({ what, folder }) => what !== 'make' || !parts.some((other) => other.what !== 'make' && other.folder === folder),
  )
  if (real.length === 0) return null
  const shown = real.slice(0, PARTS_MAX)
  const isOne = shown.length === 1
  const steps = shown.flatMap(({ folder, what, steps: own }) => {
    const prefix = isOne ? '' : `${folder === '' ? what : folder.replaceAll('/', ' ')}: `
    return own.map((step, at) => ({
      name: `${prefix}${step.name}`,
      command: step.command,
      // Parts do not wait for each other.
      ...(!isOne && { after: at === 0 ? [] : [`${prefix}${own[at - 1]?.name ?? ''}`] }),
      ...(folder !== '' && { folder }),
      ...(step.reports && { reports: step.reports }),
      ...(step.artefacts && { artefacts: step.artefacts }),
    }))
  })
  const text = stringify({ starts: { branches: ['*'] }, steps }, { lineWidth: 0 })
  return {
    text: `# How this repository is built; each commit by its own. Whoever runs "dys build" does the same.\n${text}`,
    found: found.filter(({ what, by }) => shown.some((part) => part.what === what && folderOf(by) === part.folder)),
    notes: [...notes],
  }
}

const folderOf = (path: string): string => (path.includes('/') ? path.slice(0, path.lastIndexOf('/')) : '')
const isBelow = (folder: string, above: string): boolean => above === '' || folder === above || folder.startsWith(`${above}/`)

function filesIn(folder: string, paths: readonly string[], texts: ReadonlyMap<string, string>): FoundFiles {
  const start = folder === '' ? '' : `${folder}/`
  const own = paths.filter((path) => path.startsWith(start)).map((path) => path.slice(start.length))
  const names = new Set(own)
  return {
    has: (path) => names.has(path),
    some: (pattern) => own.some((path) => pattern.test(path)),
    text: (path) => texts.get(`${start}${path}`) ?? null,
  }
}
