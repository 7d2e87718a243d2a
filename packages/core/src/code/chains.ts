/** What stands for "no number". */
export const NONE = -1
const CAPACITY_MIN = 256
/** No commit of a chain stands so far back: nothing of the chain has what is asked for. */
const NOWHERE = 0x7fffffff

/** Chains taken apart, such as pass from process to process at once. */
export interface ChainsParts {
  size: number
  count: number
  crossings: number
  chains: Int32Array<ArrayBuffer>
  places: Int32Array<ArrayBuffer>
  ends: Int32Array<ArrayBuffer>
  children: Int32Array<ArrayBuffer>
  parents: Int32Array<ArrayBuffer>
}

/** From which commit of each chain on a certain commit is behind: kept for as many crossings as were looked at. */
export interface Flow {
  readonly start: number
  from: Int32Array<ArrayBuffer>
  crossings: number
}

/**
 * A history cut into chains: lines of commits of which each has the one before it as its first parent. What leads from one chain to
 * another, the beginning of a branch or a merge, is a crossing, and there are few beside the commits. A chain has a commit behind it from
 * one place on to its end, so that one number for each chain says who has it (chain decomposition: Jagadish, A compression technique to
 * materialize transitive closure, ACM TODS 15, 1990); all of them are found by one pass over the younger crossings. Commits are numbers,
 * parents before children, added in their order. Cost: O(crossings younger) for a commit that is asked after, O(1) for each tip then.
 */
export class Chains {
  #size = 0
  #count = 0
  #crossings = 0
  #chains: Int32Array<ArrayBuffer> = new Int32Array(CAPACITY_MIN)
  #places: Int32Array<ArrayBuffer> = new Int32Array(CAPACITY_MIN)
  /** The last commit of each chain. */
  #ends: Int32Array<ArrayBuffer> = new Int32Array(CAPACITY_MIN)
  #children: Int32Array<ArrayBuffer> = new Int32Array(CAPACITY_MIN)
  #parents: Int32Array<ArrayBuffer> = new Int32Array(CAPACITY_MIN)

  /** The chains that were taken apart; the parts are their own from now on. */
  static from({ size, count, crossings, ...arrays }: ChainsParts): Chains {
    const chains = new Chains()
    chains.#size = size
    chains.#count = count
    chains.#crossings = crossings
    chains.#chains = arrays.chains
    chains.#places = arrays.places
    chains.#ends = arrays.ends
    chains.#children = arrays.children
    chains.#parents = arrays.parents
    return chains
  }

  get size(): number {
    return this.#size
  }

  get parts(): ChainsParts {
    return {
      size: this.#size,
      count: this.#count,
      crossings: this.#crossings,
      chains: this.#chains,
      places: this.#places,
      ends: this.#ends,
      children: this.#children,
      parents: this.#parents,
    }
  }

  /** The next commit, by the numbers of its parents. */
  add(parents: readonly number[]): void {
    const number = this.#size++
    if (number >= this.#chains.length) {
      this.#chains = grown(this.#chains)
      this.#places = grown(this.#places)
    }
    const first = parents[0] ?? NONE
    const before = first === NONE ? NONE : (this.#chains[first] ?? NONE)
    const goesOn = before !== NONE && this.#ends[before] === first
    const chain = goesOn ? before : this.#count++
    if (chain >= this.#ends.length) this.#ends = grown(this.#ends)
    this.#chains[number] = chain
    this.#places[number] = goesOn ? (this.#places[first] ?? 0) + 1 : 0
    this.#ends[chain] = number
    for (const [at, parent] of parents.entries()) if (at > 0 || !goesOn) this.#cross(number, parent)
  }

  /** Who has a commit behind them; `carryOn` brings it up to what was added since. */
  flowOf(start: number): Flow {
    return { start, from: new Int32Array(0), crossings: this.#crossingsUpTo(start) }
  }

  /** Brings a flow up to all commits that are here. */
  carryOn(flow: Flow): void {
    if (flow.from.length < this.#count) {
      const wider = new Int32Array(Math.ceil(this.#count * 1.25)).fill(NOWHERE)
      wider.set(flow.from)
      if (flow.from.length === 0) wider[this.#chains[flow.start] ?? 0] = this.#places[flow.start] ?? 0
      flow.from = wider
    }
    const { from } = flow
    const chains = this.#chains
    const places = this.#places
    for (let at = flow.crossings; at < this.#crossings; at++) {
      const parent = this.#parents[at] ?? 0
      if ((from[chains[parent] ?? 0] ?? NOWHERE) > (places[parent] ?? 0)) continue
      const child = this.#children[at] ?? 0
      const chain = chains[child] ?? 0
      // Crossings come in the order of their children: the first of a chain that has it is the farthest back.
      if (from[chain] === NOWHERE) from[chain] = places[child] ?? 0
    }
    flow.crossings = this.#crossings
  }

  /** Whether a tip has the commit of a flow behind it, or is that commit. */
  has(flow: Flow, tip: number): boolean {
    return (flow.from[this.#chains[tip] ?? 0] ?? NOWHERE) <= (this.#places[tip] ?? 0)
  }

  #cross(child: number, parent: number): void {
    const at = this.#crossings++
    if (at >= this.#children.length) {
      this.#children = grown(this.#children)
      this.#parents = grown(this.#parents)
    }
    this.#children[at] = child
    this.#parents[at] = parent
  }

  /** How many crossings lead to commits up to this one; by halves. */
  #crossingsUpTo(number: number): number {
    let low = 0
    let high = this.#crossings
    while (low < high) {
      const middle = (low + high) >>> 1
      if ((this.#children[middle] ?? 0) <= number) low = middle + 1
      else high = middle
    }
    return low
  }
}

/** The same numbers with room for as many again. */
export function grown(old: Int32Array<ArrayBuffer>, fill = 0): Int32Array<ArrayBuffer> {
  const wider = new Int32Array(old.length * 2).fill(fill, old.length)
  wider.set(old)
  return wider
}
