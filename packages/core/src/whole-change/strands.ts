/** One side of a change of a file, as git tells it: where it lies, what it holds, what kind of file it is. */
export interface Side {
  path: string
  /** The hash of its content. */
  blob: string
  /** As in git: `100644`, `100755`, `120000` (a link), `160000` (another repository). */
  mode: string
}

/** What a commit did to one file; null where there was none before, or is none after. */
export interface FileStep {
  sha: string
  before: Side | null
  after: Side | null
}

/** Steps at one file that follow each other without anybody else's between them: they are one change. */
export interface Strand {
  before: Side | null
  after: Side | null
  /** The commits that made it, in their order. */
  shas: string[]
  /** On which sheet it stands: within a sheet, a path is changed once. */
  sheet: number
}

/**
 * What commits change together, though others' commits lie between them. Two steps at a file are one change exactly where the second begins
 * with what the first left there (same path, same content, same mode): then nobody changed the file in between, whatever else history
 * holds, and the two compose. Where it begins with something else, a new strand begins, on a later sheet. Strands that leave all as it was
 * are no change, and are left out. A sheet can be shown as one diff: on each of its sides a path stands once, and none is at the same
 * time a file and a folder. Cost: O(steps × depth of paths).
 *
 * @param steps in the order of history: a commit stands behind its ancestors.
 */
export function strandsOf(steps: readonly FileStep[]): Strand[] {
  const strands: Strand[] = []
  /** The newest strand at each path that it leaves or left behind. */
  const newest = new Map<string, Strand>()
  for (const { sha, before, after } of steps) {
    const path = before?.path ?? after?.path ?? ''
    const last = newest.get(path)
    if (last !== undefined && isSame(last.after, before)) {
      last.after = after
      if (!last.shas.includes(sha)) last.shas.push(sha)
      if (after) newest.set(after.path, last)
      continue
    }
    const strand = { before, after, shas: [sha], sheet: 0 }
    strands.push(strand)
    for (const side of [before, after]) if (side) newest.set(side.path, strand)
  }
  return onSheets(strands.filter(({ before, after }) => !isSame(before, after)))
}

function isSame(one: Side | null, other: Side | null): boolean {
  if (one === null || other === null) return one === other
  return one.path === other.path && one.blob === other.blob && one.mode === other.mode
}

/** Puts each strand on the first sheet behind those that hold its paths, or what would lie inside of them as if they were folders. */
function onSheets(strands: readonly Strand[]): Strand[] {
  /** By path, the first sheet on which it, and whatever lies below it, is free. */
  const free = new Map<string, number>()
  const freeBelow = new Map<string, number>()
  return strands.map((strand) => {
    const paths = [strand.before?.path, strand.after?.path].filter((path) => path !== undefined)
    const sheet = Math.max(
      0,
      ...paths.flatMap((path) => [
        free.get(path) ?? 0,
        freeBelow.get(path) ?? 0,
        ...foldersOf(path).map((folder) => free.get(folder) ?? 0),
      ]),
    )
    for (const path of paths) {
      free.set(path, sheet + 1)
      for (const folder of foldersOf(path)) freeBelow.set(folder, Math.max(freeBelow.get(folder) ?? 0, sheet + 1))
    }
    return { ...strand, sheet }
  })
}

/** `a/b/c` lies in `a/b` and `a`. */
function foldersOf(path: string): string[] {
  const folders: string[] = []
  for (let at = path.lastIndexOf('/'); at > 0; at = path.lastIndexOf('/', at - 1)) folders.push(path.slice(0, at))
  return folders
}
