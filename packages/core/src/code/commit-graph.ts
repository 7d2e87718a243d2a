import { BitSet } from '#basics/bit-set'
import { NONE, ObjectNames, type NamesParts } from './object-names.js'

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
}

const FLOWS_MAX = 32
const CAPACITY_MIN = 1024
const OF_TIPS = 1
const OF_BASES = 2

/**
 * The commits of one repository and what is reachable from where, made for a million of them: commits are numbered so that
 * parents come before children (Kahn's order, kept as commits are added), names, parents and patches lie in typed arrays, sets are
 * bits. So a commit is no object: growing by one costs nobody a wait, and a whole graph passes to another thread without being copied.
 *
 * Two kinds of question are answered. Backwards, "what has this tip that those have not": down the numbers, two colours at once.
 * Forwards, "which tips have this commit": one pass over the commits younger than it, 32 commits asked for at
 * once as the bits of a word, O(commits younger); it is kept and carried on as commits are added, so that the next tip costs a
 * look-up.
 */
export class CommitGraph {
  #names = new ObjectNames()
  #count = 0
  #patchIds = new ObjectNames()
  #first = new Int32Array(CAPACITY_MIN).fill(NONE)
  #second = new Int32Array(CAPACITY_MIN).fill(NONE)
  /** Third and later parents: rare. */
  #further = new Map<number, number[]>()
  /** The number of each commit's patch, and the commit that carries the same patch and came next after it. */
  #patches = new Int32Array(CAPACITY_MIN).fill(NONE)
  #nextCarriers = new Int32Array(CAPACITY_MIN).fill(NONE)
  /** The first and the last carrier of each patch, side by side. */
  #ends = new Int32Array(CAPACITY_MIN).fill(NONE)
  readonly #revertsBySha = new Map<string, readonly string[]>()
  readonly #resolved = new Map<string, string>()
  /** Commits with parents that are not here (yet), and who waits for which. */
  readonly #parentsOfIncomplete = new Map<string, readonly string[]>()
  readonly #childrenByMissing = new Map<string, string[]>()
  #isInOrder = true
  readonly #flows = new Map<string, Flow>()

  /** The graph that was taken apart; the parts are its own from now on. */
  static from(parts: GraphParts): CommitGraph {
    const graph = new CommitGraph()
    graph.#names = ObjectNames.from(parts.names)
    graph.#count = parts.names.size
    graph.#patchIds = ObjectNames.from(parts.patchIds)
    graph.#first = parts.first
    graph.#second = parts.second
    graph.#patches = parts.patches
    graph.#nextCarriers = parts.nextCarriers
    graph.#ends = parts.ends
    graph.#further = new Map(parts.further)
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
    }
  }

  /** Throws for what is no object name. */
  add(commit: GraphCommit): void {
    const number = this.#names.add(commit.sha)
    if (number < this.#count) return
    this.#count++
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
    return this.#count
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
    const key = shas.join(' ')
    let flow = this.#flows.get(key)
    if (!flow) {
      flow = new Flow(shas.map((sha) => this.#names.numberOf(sha)))
      trim(this.#flows, FLOWS_MAX)
    } else this.#flows.delete(key)
    this.#flows.set(key, flow)
    flow.carryOn(this.size, { first: this.#first, second: this.#second, further: this.#further })
    const positions = new Map(shas.map((sha, position) => [sha, position]))
    const known = flow
    return {
      has: (tip, sha) => {
        const number = this.#names.numberOf(tip)
        const position = positions.get(sha)
        return number !== NONE && position !== undefined && known.has(number, position)
      },
    }
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
    if (patch * 2 + 1 >= this.#ends.length) this.#ends = grown(this.#ends)
    const last = this.#ends[patch * 2 + 1] ?? NONE
    if (last === NONE) this.#ends[patch * 2] = number
    else this.#nextCarriers[last] = number
    this.#ends[patch * 2 + 1] = number
    this.#patches[number] = patch
  }

  #reserve(number: number): void {
    if (number < this.#first.length) return
    this.#first = grown(this.#first)
    this.#second = grown(this.#second)
    this.#patches = grown(this.#patches)
    this.#nextCarriers = grown(this.#nextCarriers)
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
  carryOn(size: number, parents: ParentNumbers): void {
    const until = Math.max(0, size - this.#from)
    if (until <= this.#size) return
    const width = this.#width
    if (until * width > this.#words.length) {
      const grownWords = new Uint32Array(Math.ceil(until * 1.25) * width)
      grownWords.set(this.#words)
      this.#words = grownWords
    }
    const words = this.#words
    for (const [position, start] of this.#starts.entries()) {
      const at = (start - this.#from) * width + (position >>> 5)
      if (start !== NONE && start - this.#from >= this.#size) words[at] = (words[at] ?? 0) | (1 << (position & 31))
    }
    // Commits with more than two parents are few: each ends a stretch that is passed without looking for them.
    const many = [...parents.further.keys()].filter((number) => number >= this.#size + this.#from && number < size)
    for (const number of [...many.sort((a, b) => a - b), NONE]) {
      const end = number === NONE ? until : number - this.#from + 1
      if (width === 1) this.#passSingle(end, parents)
      else this.#passWide(end, parents)
      for (const parent of parents.further.get(number) ?? []) this.#bring(number - this.#from, parent - this.#from)
    }
  }

  /** The pass for what nearly all ask, at most 32 commits: a few instructions for each commit, so that a million take milliseconds. */
  #passSingle(until: number, { first, second }: ParentNumbers): void {
    const words = this.#words
    const from = this.#from
    for (let at = this.#size; at < until; at++) {
      const one = (first[at + from] ?? NONE) - from
      const two = (second[at + from] ?? NONE) - from
      let word = words[at] ?? 0
      if (one >= 0) word |= words[one] ?? 0
      if (two >= 0) word |= words[two] ?? 0
      words[at] = word
    }
    this.#size = until
  }

  #passWide(until: number, { first, second }: ParentNumbers): void {
    for (let at = this.#size; at < until; at++) {
      this.#bring(at, (first[at + this.#from] ?? NONE) - this.#from)
      this.#bring(at, (second[at + this.#from] ?? NONE) - this.#from)
    }
    this.#size = until
  }

  /** What a parent has behind it, its child has too. */
  #bring(child: number, parent: number): void {
    if (parent < 0) return
    for (let word = 0; word < this.#width; word++) {
      const at = child * this.#width + word
      this.#words[at] = (this.#words[at] ?? 0) | (this.#words[parent * this.#width + word] ?? 0)
    }
  }
}

/** Where the parents of each commit stand. */
interface ParentNumbers {
  first: Int32Array
  second: Int32Array
  further: ReadonlyMap<number, readonly number[]>
}

function grown(old: Int32Array): Int32Array<ArrayBuffer> {
  const wider = new Int32Array(old.length * 2).fill(NONE)
  wider.set(old)
  return wider
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
