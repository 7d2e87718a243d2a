import { BitSet } from '#basics/bit-set'
import { Chains, grown, NONE, type ChainsParts, type Flow } from './chains.js'
import { ObjectNames, type NamesParts } from './object-names.js'

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

/** A graph taken apart, such as passes from thread to thread at once. */
export interface GraphParts {
  names: NamesParts
  patchIds: NamesParts
  first: Int32Array<ArrayBuffer>
  second: Int32Array<ArrayBuffer>
  patches: Int32Array<ArrayBuffer>
  nextCarriers: Int32Array<ArrayBuffer>
  ends: Int32Array<ArrayBuffer>
  further: [number, number[]][]
  reverts: [string, readonly string[]][]
  incomplete: [string, readonly string[]][]
  chains: ChainsParts
}

/** So many commits are kept with who has them; each takes four bytes for each branch that there ever was. */
const FLOWS_MAX = 64
const CAPACITY_MIN = 1024
const OF_TIPS = 1
const OF_BASES = 2

/**
 * The commits of one repository and what is reachable from where, made for a million of them: commits are numbered so that
 * parents come before children (Kahn's order, kept as commits are added), names, parents and patches lie in typed arrays, sets are
 * bits. So a commit is no object: growing by one costs nobody a wait, and a whole graph passes from process to process at once.
 *
 * Two kinds of question are answered. Backwards, "what has this tip that those have not": down the numbers, two colours at once.
 * Forwards, "which tips have this commit": one pass over the branches and merges younger than it (see Chains), kept and carried on as
 * commits are added, so that the next tip costs a look-up.
 */
export class CommitGraph {
  #names = new ObjectNames()
  #patchIds = new ObjectNames()
  #first: Int32Array<ArrayBuffer> = new Int32Array(CAPACITY_MIN).fill(NONE)
  #second: Int32Array<ArrayBuffer> = new Int32Array(CAPACITY_MIN).fill(NONE)
  /** Third and later parents: rare. */
  #further = new Map<number, number[]>()
  /** The number of each commit's patch, and the commit that carries the same patch and came next after it. */
  #patches: Int32Array<ArrayBuffer> = new Int32Array(CAPACITY_MIN).fill(NONE)
  #nextCarriers: Int32Array<ArrayBuffer> = new Int32Array(CAPACITY_MIN).fill(NONE)
  /** The first and the last carrier of each patch, side by side. */
  #ends: Int32Array<ArrayBuffer> = new Int32Array(CAPACITY_MIN).fill(NONE)
  readonly #revertsBySha = new Map<string, readonly string[]>()
  readonly #resolved = new Map<string, string>()
  /** Commits with parents that are not here (yet), and who waits for which. */
  readonly #parentsOfIncomplete = new Map<string, readonly string[]>()
  readonly #childrenByMissing = new Map<string, string[]>()
  #isInOrder = true
  #chains = new Chains()
  readonly #flows = new Map<number, Flow>()

  /** The graph that was taken apart; the parts are its own from now on. */
  static from(parts: GraphParts): CommitGraph {
    const graph = new CommitGraph()
    graph.#names = ObjectNames.from(parts.names)
    graph.#patchIds = ObjectNames.from(parts.patchIds)
    graph.#first = parts.first
    graph.#second = parts.second
    graph.#patches = parts.patches
    graph.#nextCarriers = parts.nextCarriers
    graph.#ends = parts.ends
    graph.#further = new Map(parts.further)
    graph.#chains = Chains.from(parts.chains)
    for (const [sha, named] of parts.reverts) graph.#revertsBySha.set(sha, named)
    for (const [sha, parents] of parts.incomplete) {
      graph.#parentsOfIncomplete.set(sha, parents)
      for (const parent of parents) if (!graph.has(parent)) push(graph.#childrenByMissing, parent, sha)
    }
    return graph
  }

  /** What it consists of, in order; the graph is not to be used any more once its arrays were handed on. */
  takeApart(): GraphParts {
    this.#order()
    return {
      names: this.#names.parts,
      patchIds: this.#patchIds.parts,
      first: this.#first,
      second: this.#second,
      patches: this.#patches,
      nextCarriers: this.#nextCarriers,
      ends: this.#ends,
      further: [...this.#further],
      reverts: [...this.#revertsBySha],
      incomplete: [...this.#parentsOfIncomplete],
      chains: this.#chains.parts,
    }
  }

  /** Throws for what is no object name. */
  add(commit: GraphCommit): void {
    const before = this.size
    const number = this.#names.add(commit.sha)
    if (number < before) return
    this.#reserve(number)
    if (commit.patchId !== null) this.#carry(number, this.#patchIds.add(commit.patchId))
    if (commit.reverts.length > 0) this.#revertsBySha.set(commit.sha, commit.reverts)
    if (!this.#linkParents(number, commit.parents)) {
      this.#parentsOfIncomplete.set(commit.sha, commit.parents)
      for (const parent of commit.parents) if (!this.has(parent)) push(this.#childrenByMissing, parent, commit.sha)
    }
    if (this.#childrenByMissing.size > 0 && this.#childrenByMissing.has(commit.sha)) this.#welcome(commit.sha)
  }

  has(sha: string): boolean {
    return this.#names.numberOf(sha) !== NONE
  }

  get(sha: string): GraphCommit | undefined {
    const number = this.#names.numberOf(sha)
    if (number === NONE) return undefined
    const patch = this.#patches[number] ?? NONE
    return {
      sha,
      parents: this.#parentsOfIncomplete.get(sha) ?? this.#parentNumbers(number).map((parent) => this.#names.nameOf(parent)),
      patchId: patch === NONE ? null : this.#patchIds.nameOf(patch),
      reverts: this.#revertsBySha.get(sha) ?? [],
    }
  }

  get size(): number {
    return this.#names.size
  }

  /** The commits that carry a patch, in the order in which they came. Cost: O(carriers). */
  carriersOf(patchId: string): readonly string[] {
    const carriers: string[] = []
    const patch = this.#patchIds.numberOf(patchId)
    const first = patch === NONE ? NONE : (this.#ends[patch * 2] ?? NONE)
    for (let number = first; number !== NONE; number = this.#nextCarriers[number] ?? NONE) carriers.push(this.#names.nameOf(number))
    return carriers
  }

  /** The commits whose message says that they revert others, with what it names. */
  get reverts(): ReadonlyMap<string, readonly string[]> {
    return this.#revertsBySha
  }

  /** Whether `sha` is the tip or one of its ancestors. Cost: O(commits between the two). */
  isReachable(sha: string, tip: string): boolean {
    this.#order()
    const target = this.#names.numberOf(sha)
    const from = this.#names.numberOf(tip)
    if (target === NONE || from < target) return false
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
    const numbers = [...new Set(shas)].map((sha) => this.#names.numberOf(sha)).filter((number) => number !== NONE)
    return numbers.sort((a, b) => a - b).map((number) => this.#names.nameOf(number))
  }

  /**
   * What the tips have and the bases have not, as `git rev-list TIPS --not BASES`. Both colours run down together, youngest number
   * first, so that a commit's colours are whole when its turn comes; it ends when nothing is left that only the tips have. Cost:
   * O(numbers from the youngest tip down to the last commit of the difference).
   */
  between(tips: Iterable<string>, bases: Iterable<string>): Set<string> {
    this.#order()
    const colours = new Uint8Array(this.size)
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
    const paintAll = (shas: Iterable<string>, colour: number) => {
      for (const sha of shas) {
        const number = this.#names.numberOf(sha)
        if (number !== NONE) paint(number, colour)
      }
    }
    paintAll(tips, OF_TIPS)
    paintAll(bases, OF_BASES)
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
    return new Set(found.reverse().map((number) => this.#names.nameOf(number)))
  }

  /** Which commits have which of `shas` behind them; unknown ones are behind nobody. */
  flowOf(shas: readonly string[]): CommitFlow {
    this.#order()
    const flows = new Map<string, Flow>()
    for (const sha of shas) {
      const number = this.#names.numberOf(sha)
      if (number !== NONE) flows.set(sha, this.#flowOfNumber(number))
    }
    return {
      has: (tip, sha) => {
        const flow = flows.get(sha)
        const number = flow === undefined ? NONE : this.#names.numberOf(tip)
        return flow !== undefined && number !== NONE && this.#chains.has(flow, number)
      },
    }
  }

  #flowOfNumber(number: number): Flow {
    let flow = this.#flows.get(number)
    if (flow) this.#flows.delete(number)
    else {
      flow = this.#chains.flowOf(number)
      trim(this.#flows, FLOWS_MAX)
    }
    this.#flows.set(number, flow)
    this.#chains.carryOn(flow)
    return flow
  }

  /** The full hash of an abbreviated one; null when unknown or when several commits begin so. Cost: O(1) for a full hash. */
  resolve(prefix: string): string | null {
    if (this.has(prefix)) return prefix
    const known = this.#resolved.get(prefix)
    if (known !== undefined) return known
    if (prefix.length >= 40) return null
    const number = this.#names.numberBeginning(prefix)
    if (number === NONE) return null
    const found = this.#names.nameOf(number)
    this.#resolved.set(prefix, found)
    return found
  }

  #parentNumbers(number: number): number[] {
    const first = this.#first[number] ?? NONE
    if (first === NONE) return []
    const second = this.#second[number] ?? NONE
    return second === NONE ? [first] : [first, second, ...(this.#further.get(number) ?? [])]
  }

  /** Ties a commit to its parents; says whether all of them are here. */
  #linkParents(number: number, parents: readonly string[]): boolean {
    const known: number[] = []
    for (const sha of parents) {
      const parent = this.#names.numberOf(sha)
      if (parent === NONE) continue
      known.push(parent)
      if (parent >= number) this.#isInOrder = false
    }
    this.#first[number] = known[0] ?? NONE
    this.#second[number] = known[1] ?? NONE
    if (known.length > 2) this.#further.set(number, known.slice(2))
    // Once something came the other way round, the chains are made anew before the next question.
    if (this.#isInOrder && number === this.#chains.size) this.#chains.add(known)
    return known.length === parents.length
  }

  /** A commit came after its children: they are tied to it, and the order is made anew before the next question. */
  #welcome(sha: string): void {
    for (const child of this.#childrenByMissing.get(sha) ?? []) {
      const parents = this.#parentsOfIncomplete.get(child) ?? []
      if (this.#linkParents(this.#names.numberOf(child), parents)) this.#parentsOfIncomplete.delete(child)
    }
    this.#childrenByMissing.delete(sha)
    this.#flows.clear()
  }

  /** A commit carries a patch: it comes last in the row of those that do. */
  #carry(number: number, patch: number): void {
    if (patch * 2 + 1 >= this.#ends.length) this.#ends = grown(this.#ends, NONE)
    const last = this.#ends[patch * 2 + 1] ?? NONE
    if (last === NONE) this.#ends[patch * 2] = number
    else this.#nextCarriers[last] = number
    this.#ends[patch * 2 + 1] = number
    this.#patches[number] = patch
  }

  #reserve(number: number): void {
    if (number < this.#first.length) return
    this.#first = grown(this.#first, NONE)
    this.#second = grown(this.#second, NONE)
    this.#patches = grown(this.#patches, NONE)
    this.#nextCarriers = grown(this.#nextCarriers, NONE)
  }

  /** Numbers the commits anew, parents before children, if some came the other way round. Cost: O(commits). */
  #order(): void {
    if (this.#isInOrder) return
    const order = this.#parentsFirst()
    const numbers = new Int32Array(order.length)
    for (const [to, from] of order.entries()) numbers[from] = to
    const moved = (number: number | undefined) => (number === undefined || number === NONE ? NONE : (numbers[number] ?? NONE))
    const reordered = (old: Int32Array, turn: (number: number | undefined) => number) => {
      const next = new Int32Array(old.length).fill(NONE)
      for (const [to, from] of order.entries()) next[to] = turn(old[from])
      return next
    }
    this.#names = this.#names.reordered(order)
    this.#first = reordered(this.#first, moved)
    this.#second = reordered(this.#second, moved)
    this.#nextCarriers = reordered(this.#nextCarriers, moved)
    this.#patches = reordered(this.#patches, (patch) => patch ?? NONE)
    this.#ends = this.#ends.map(moved)
    this.#further = new Map([...this.#further].map(([number, rest]) => [moved(number), rest.map(moved)]))
    this.#chains = new Chains()
    for (let number = 0; number < this.size; number++) this.#chains.add(this.#parentNumbers(number))
    this.#flows.clear()
    this.#isInOrder = true
  }

  /** Depth first with a stack of its own: histories are deeper than any call stack. */
  #parentsFirst(): number[] {
    const order: number[] = []
    const isEntered = new BitSet(this.size)
    const isDone = new BitSet(this.size)
    const stack: number[] = []
    for (let root = 0; root < this.size; root++) {
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
