import { BitSet } from '#basics/bit-set'

/** What the graph needs to know of a commit. */
export interface GraphCommit {
  sha: string
  parents: readonly string[]
  /** Identity of the change itself (git patch-id); null for merges and empty commits. */
  patchId: string | null
  /** Hashes that this commit reverts, as its message says; may be abbreviated. */
  reverts: readonly string[]
}
/** For a few commits, which of them each commit has behind it. */
export interface CommitFlow {
  /** Whether `sha` (one of those asked for) is the tip or reachable from it. */
  has(tip: string, sha: string): boolean
}

const FLOWS_MAX = 32
const CAPACITY_MIN = 1024
const NONE = -1
const OF_TIPS = 1
const OF_BASES = 2

/**
 * The commits of one repository and what is reachable from where, made for a million of them: commits are numbered so that
 * parents come before children (Kahn's order, kept as commits are added), parents lie in typed arrays, sets are bits.
 *
 * Two kinds of question are answered. Backwards, "what has this tip that those have not": down the numbers, two colours at once.
 * Forwards, "which tips have this commit": one pass over the commits younger than it, 32 commits asked for at
 * once as the bits of a word, O(commits younger); it is kept and carried on as commits are added, so that the next tip costs a
 * look-up.
 */
export class CommitGraph {
  #shas: string[] = []
  #patchIds: (string | null)[] = []
  #first = new Int32Array(CAPACITY_MIN).fill(NONE)
  #second = new Int32Array(CAPACITY_MIN).fill(NONE)
  /** Third and later parents: rare. */
  #further = new Map<number, number[]>()
  #numberBySha = new Map<string, number>()
  readonly #carriersByPatch = new Map<string, string[]>()
  readonly #revertsBySha = new Map<string, readonly string[]>()
  readonly #resolved = new Map<string, string>()
  /** Commits with parents that are not here (yet), and who waits for which. */
  readonly #parentsOfIncomplete = new Map<string, readonly string[]>()
  readonly #childrenByMissing = new Map<string, string[]>()
  #isInOrder = true
  readonly #flows = new Map<string, Flow>()

  add(commit: GraphCommit): void {
    if (this.#numberBySha.has(commit.sha)) return
    const number = this.#shas.length
    this.#reserve(number)
    this.#shas.push(commit.sha)
    this.#patchIds.push(commit.patchId)
    this.#numberBySha.set(commit.sha, number)
    if (commit.patchId !== null) push(this.#carriersByPatch, commit.patchId, commit.sha)
    if (commit.reverts.length > 0) this.#revertsBySha.set(commit.sha, commit.reverts)
    this.#linkParents(number, commit.parents)
    if (commit.parents.some((parent) => !this.#numberBySha.has(parent))) {
      this.#parentsOfIncomplete.set(commit.sha, commit.parents)
      for (const parent of commit.parents) if (!this.#numberBySha.has(parent)) push(this.#childrenByMissing, parent, commit.sha)
    }
    if (this.#childrenByMissing.has(commit.sha)) this.#welcome(commit.sha)
  }

  has(sha: string): boolean {
    return this.#numberBySha.has(sha)
  }

  get(sha: string): GraphCommit | undefined {
    const number = this.#numberBySha.get(sha)
    if (number === undefined) return undefined
    const parents = this.#parentsOfIncomplete.get(sha) ?? this.#parentNumbers(number).map((parent) => this.#shas[parent] ?? '')
    return { sha, parents, patchId: this.#patchIds[number] ?? null, reverts: this.#revertsBySha.get(sha) ?? [] }
  }

  get size(): number {
    return this.#shas.length
  }

  /** The commits that carry a patch, in the order in which they came. */
  carriersOf(patchId: string): readonly string[] {
    return this.#carriersByPatch.get(patchId) ?? []
  }

  /** The commits whose message says that they revert others, with what it names. */
  get reverts(): ReadonlyMap<string, readonly string[]> {
    return this.#revertsBySha
  }

  /** Whether `sha` is the tip or one of its ancestors. Cost: O(commits between the two). */
  isReachable(sha: string, tip: string): boolean {
    this.#order()
    const target = this.#numberBySha.get(sha)
    const from = this.#numberBySha.get(tip)
    if (target === undefined || from === undefined || from < target) return false
    const seen = new BitSet(from - target + 1)
    const queue = [from]
    for (let number = queue.pop(); number !== undefined; number = queue.pop()) {
      if (number === target) return true
      // A commit numbered below the target cannot have it behind itself.
      if (number < target || seen.has(number - target)) continue
      seen.add(number - target)
      queue.push(...this.#parentNumbers(number))
    }
    return false
  }

  /** The commits that are here, each behind its ancestors. Cost: O(n log n) for n commits asked for. */
  inOrder(shas: Iterable<string>): string[] {
    this.#order()
    const numbers = [...new Set(shas)].flatMap((sha) => this.#numberBySha.get(sha) ?? [])
    return numbers.sort((a, b) => a - b).map((number) => this.#shas[number] ?? '')
  }

  /**
   * What the tips have and the bases have not, as `git rev-list TIPS --not BASES`. Both colours run down together, youngest number
   * first, so that a commit's colours are whole when its turn comes; it ends when nothing is left that only the tips have. Cost:
   * O(numbers from the youngest tip down to the last commit of the difference).
   */
  between(tips: Iterable<string>, bases: Iterable<string>): Set<string> {
    this.#order()
    const colours = new Uint8Array(this.#shas.length)
    let waiting = 0
    let top = NONE
    const paint = (number: number, colour: number) => {
      const before = colours[number] ?? 0
      const after = before | colour
      if (before === 0 && after === OF_TIPS) waiting++
      if (before === OF_TIPS && after !== OF_TIPS) waiting--
      colours[number] = after
      if (number > top) top = number
    }
    for (const tip of tips) if (this.#numberBySha.has(tip)) paint(this.#numberBySha.get(tip) ?? NONE, OF_TIPS)
    for (const base of bases) if (this.#numberBySha.has(base)) paint(this.#numberBySha.get(base) ?? NONE, OF_BASES)
    const found: number[] = []
    for (let number = top; waiting > 0; number--) {
      const colour = colours[number] ?? 0
      if (colour === 0) continue
      if (colour === OF_TIPS) {
        waiting--
        found.push(number)
      }
      for (const parent of this.#parentNumbers(number)) paint(parent, colour)
    }
    return new Set(found.reverse().map((number) => this.#shas[number] ?? ''))
  }

  /** Which commits have which of `shas` behind them; unknown ones are behind nobody. */
  flowOf(shas: readonly string[]): CommitFlow {
    this.#order()
    const key = shas.join(' ')
    let flow = this.#flows.get(key)
    if (!flow) {
      flow = new Flow(shas.map((sha) => this.#numberBySha.get(sha) ?? NONE))
      trim(this.#flows, FLOWS_MAX)
    } else this.#flows.delete(key)
    this.#flows.set(key, flow)
    flow.carryOn(this.#shas.length, (number) => this.#parentNumbers(number))
    const positions = new Map(shas.map((sha, position) => [sha, position]))
    const known = flow
    return {
      has: (tip, sha) => {
        const number = this.#numberBySha.get(tip)
        const position = positions.get(sha)
        return number !== undefined && position !== undefined && known.has(number, position)
      },
    }
  }

  /** The full hash of an abbreviated one; null when unknown or when several commits begin so. Cost: O(1) for a full hash. */
  resolve(prefix: string): string | null {
    if (this.#numberBySha.has(prefix)) return prefix
    const known = this.#resolved.get(prefix)
    if (known !== undefined) return known
    if (prefix.length >= 40) return null
    let found: string | null = null
    for (const sha of this.#shas) {
      if (!sha.startsWith(prefix)) continue
      if (found) return null
      found = sha
    }
    if (found) this.#resolved.set(prefix, found)
    return found
  }

  #parentNumbers(number: number): number[] {
    const first = this.#first[number] ?? NONE
    if (first === NONE) return []
    const second = this.#second[number] ?? NONE
    return second === NONE ? [first] : [first, second, ...(this.#further.get(number) ?? [])]
  }

  #linkParents(number: number, parents: readonly string[]): void {
    const known = parents.flatMap((parent) => this.#numberBySha.get(parent) ?? [])
    this.#first[number] = known[0] ?? NONE
    this.#second[number] = known[1] ?? NONE
    if (known.length > 2) this.#further.set(number, known.slice(2))
    if (known.some((parent) => parent >= number)) this.#isInOrder = false
  }

  /** A commit came after its children: they are tied to it, and the order is made anew before the next question. */
  #welcome(sha: string): void {
    for (const child of this.#childrenByMissing.get(sha) ?? []) {
      const parents = this.#parentsOfIncomplete.get(child) ?? []
      this.#linkParents(this.#numberBySha.get(child) ?? NONE, parents)
      if (parents.every((parent) => this.#numberBySha.has(parent))) this.#parentsOfIncomplete.delete(child)
    }
    this.#childrenByMissing.delete(sha)
    this.#flows.clear()
  }

  #reserve(number: number): void {
    if (number < this.#first.length) return
    const grow = (old: Int32Array) => {
      const grown = new Int32Array(old.length * 2).fill(NONE)
      grown.set(old)
      return grown
    }
    this.#first = grow(this.#first)
    this.#second = grow(this.#second)
  }

  /** Numbers the commits anew, parents before children, if some came the other way round. Cost: O(commits). */
  #order(): void {
    if (this.#isInOrder) return
    const order = this.#parentsFirst()
    const numbers = new Int32Array(order.length)
    for (const [to, from] of order.entries()) numbers[from] = to
    const first = new Int32Array(this.#first.length).fill(NONE)
    const second = new Int32Array(this.#second.length).fill(NONE)
    const further = new Map<number, number[]>()
    const moved = (number: number | undefined) => (number === undefined || number === NONE ? NONE : (numbers[number] ?? NONE))
    for (const [to, from] of order.entries()) {
      first[to] = moved(this.#first[from])
      second[to] = moved(this.#second[from])
      const rest = this.#further.get(from)
      if (rest) further.set(to, rest.map(moved))
    }
    this.#shas = order.map((from) => this.#shas[from] ?? '')
    this.#patchIds = order.map((from) => this.#patchIds[from] ?? null)
    this.#first = first
    this.#second = second
    this.#further = further
    this.#numberBySha = new Map(this.#shas.map((sha, number) => [sha, number]))
    this.#flows.clear()
    this.#isInOrder = true
  }

  /** Depth first with a stack of its own: histories are deeper than any call stack. */
  #parentsFirst(): number[] {
    const order: number[] = []
    const isEntered = new BitSet(this.#shas.length)
    const isDone = new BitSet(this.#shas.length)
    const stack: number[] = []
    for (let root = 0; root < this.#shas.length; root++) {
      stack.push(root)
      for (let number = stack.at(-1); number !== undefined; number = stack.at(-1)) {
        if (!isEntered.has(number)) {
          isEntered.add(number)
          for (const parent of this.#parentNumbers(number)) if (!isEntered.has(parent)) stack.push(parent)
          continue
        }
        stack.pop()
        if (isDone.has(number)) continue
        isDone.add(number)
        order.push(number)
      }
    }
    return order
  }
}

/** For each commit from the oldest asked for on, a word of bits (several words for more than 32): which of them it has behind it. */
class Flow {
  readonly #starts: readonly number[]
  readonly #from: number
  readonly #width: number
  #words = new Uint32Array(0)
  #size = 0

  constructor(starts: readonly number[]) {
    this.#starts = starts
    this.#from = Math.min(Number.MAX_SAFE_INTEGER, ...starts.filter((start) => start !== NONE))
    this.#width = Math.max(1, Math.ceil(starts.length / 32))
  }

  has(number: number, position: number): boolean {
    const word = this.#words[(number - this.#from) * this.#width + (position >>> 5)] ?? 0
    return number >= this.#from && ((word >>> (position & 31)) & 1) === 1
  }

  /** Brings the words up to `size` commits; what was there stays. */
  carryOn(size: number, parentsOf: (number: number) => readonly number[]): void {
    const until = Math.max(0, size - this.#from)
    if (until <= this.#size) return
    const width = this.#width
    if (until * width > this.#words.length) {
      const grown = new Uint32Array(Math.ceil(until * 1.25) * width)
      grown.set(this.#words)
      this.#words = grown
    }
    const words = this.#words
    for (const [position, start] of this.#starts.entries()) {
      const at = (start - this.#from) * width + (position >>> 5)
      if (start !== NONE && start - this.#from >= this.#size) words[at] = (words[at] ?? 0) | (1 << (position & 31))
    }
    for (let number = this.#size; number < until; number++)
      for (const parent of parentsOf(number + this.#from)) {
        const at = (parent - this.#from) * width
        if (at >= 0)
          for (let word = 0; word < width; word++)
            words[number * width + word] = (words[number * width + word] ?? 0) | (words[at + word] ?? 0)
      }
    this.#size = until
  }
}

function push<Key>(lists: Map<Key, string[]>, key: Key, value: string): void {
  const list = lists.get(key)
  if (list) list.push(value)
  else lists.set(key, [value])
}

/** Makes room for one more, dropping what was put in first. */
function trim<Key>(kept: Map<Key, unknown>, max: number): void {
  if (kept.size < max) return
  const oldest = kept.keys().next()
  if (!oldest.done) kept.delete(oldest.value)
}
