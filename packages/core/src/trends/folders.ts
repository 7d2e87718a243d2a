/** Lines of a file, or of all below a folder, that tests run and do not. */
export interface Covered {
  path: string
  covered: number
  missed: number
}
/** A folder with all that is below it. */
export interface CoveredFolder extends Covered {
  files: number
}

/**
 * The folders of files with what is run below each, by their paths; a chain of folders that hold nothing but one another is its last.
 * O(files × depth).
 */
export function coveredFolders(files: readonly Covered[]): CoveredFolder[] {
  const folders = new Map<string, CoveredFolder>()
  for (const { path, covered, missed } of files)
    for (let at = path.lastIndexOf('/'); at > 0; at = path.lastIndexOf('/', at - 1)) {
      const name = path.slice(0, at)
      const known = folders.get(name) ?? { path: name, covered: 0, missed: 0, files: 0 }
      folders.set(name, { path: name, covered: known.covered + covered, missed: known.missed + missed, files: known.files + 1 })
    }
  // A folder that holds no more than one below it says nothing that that one does not.
  return [...folders.values()]
    .filter((one) => ![...folders.values()].some((other) => other.path.startsWith(`${one.path}/`) && other.files === one.files))
    .sort((a, b) => (a.path < b.path ? -1 : 1))
}
