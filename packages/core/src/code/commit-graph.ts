/** What the graph needs to know of a commit. */
export interface GraphCommit {
  sha: string
  parents: readonly string[]
  /** Identity of the change itself (git patch-id); null for merges and empty commits. */
  patchId: string | null
  /** Hashes that this commit reverts, as its message says; may be abbreviated. */
  reverts: readonly string[]
}

const CACHE_MAX = 64

/**
 * The commits of one repository and what is reachable from where. Sets are kept per tip (commits never change), so a repeated
 * question costs one look-up; a new one costs O(commits reachable), as git rev-list does.
 */
export class CommitGraph {
  readonly #commits = new Map<string, GraphCommit>()
  readonly #reachable = new Map<string, ReadonlySet<string>>()

  add(commit: GraphCommit): void {
    if (this.#commits.has(commit.sha)) return
    this.#commits.set(commit.sha, commit)
    this.#reachable.clear()
  }

  get(sha: string): GraphCommit | undefined {
    return this.#commits.get(sha)
  }

  get size(): number {
    return this.#commits.size
  }

  /** All commits reachable from the tip, itself included; empty when the tip is unknown. */
  reachableFrom(tip: string): ReadonlySet<string> {
    const known = this.#reachable.get(tip)
    if (known) return known
    const seen = this.walk([tip], () => false)
    if (this.#reachable.size >= CACHE_MAX) {
      const oldest = this.#reachable.keys().next().value
      if (oldest !== undefined) this.#reachable.delete(oldest)
    }
    this.#reachable.set(tip, seen)
    return seen
  }

  isReachable(sha: string, tip: string): boolean {
    return this.reachableFrom(tip).has(sha)
  }

  /** Commits reachable from the tips, not going past those for which `stopsAt` holds (they are left out). */
  walk(tips: Iterable<string>, stopsAt: (sha: string) => boolean): Set<string> {
    const seen = new Set<string>()
    const queue = [...tips]
    for (let sha = queue.pop(); sha !== undefined; sha = queue.pop()) {
      if (seen.has(sha) || stopsAt(sha)) continue
      const commit = this.#commits.get(sha)
      if (!commit) continue
      seen.add(sha)
      queue.push(...commit.parents)
    }
    return seen
  }

  /** The full hash of an abbreviated one; null when unknown or when several commits begin so. */
  resolve(prefix: string): string | null {
    if (this.#commits.has(prefix)) return prefix
    let found: string | null = null
    for (const sha of this.#commits.keys()) {
      if (!sha.startsWith(prefix)) continue
      if (found) return null
      found = sha
    }
    return found
  }
}
