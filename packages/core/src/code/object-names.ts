import { NONE } from './chains.js'

const SLOTS_MIN = 2048
const DIGITS = '0123456789abcdef'
/** The value of each character that is a hexadecimal digit in lower case, by its code; 255 for all others. */
const VALUE_BY_CODE = new Uint8Array(128).fill(255)
for (const [value, digit] of [...DIGITS].entries()) VALUE_BY_CODE[digit.charCodeAt(0)] = value

/** The parts of a table of names, such as pass from thread to thread at once. */
export interface NamesParts {
  width: number
  size: number
  bytes: Uint8Array<ArrayBuffer>
  slots: Int32Array<ArrayBuffer>
}

/**
 * git's object names (40 or 64 hexadecimal digits, all of one length) and the numbers under which they came, made for millions of them: the
 * bytes of all names lie in one array, and an open table of numbers is probed from where the first four bytes of a name point to, which
 * are spread evenly as they are of a hash (Knuth, The Art of Computer Programming 3, 6.4, algorithm L). No object of its own is kept for a
 * name, so that the collector of garbage has nothing to visit; 28 to 36 bytes a name. Cost: O(1) for a question, O(n) whenever it doubles.
 */
export class ObjectNames {
  #width = 0
  #size = 0
  #bytes = new Uint8Array(0)
  #slots = new Int32Array(SLOTS_MIN).fill(NONE)
  readonly #asked = new Uint8Array(32)
  readonly #codes = new Uint8Array(64)

  /** The table that was taken apart; the parts are its own from now on. */
  static from({ width, size, bytes, slots }: NamesParts): ObjectNames {
    const names = new ObjectNames()
    names.#width = width
    names.#size = size
    names.#bytes = bytes
    names.#slots = slots
    return names
  }

  get size(): number {
    return this.#size
  }

  get parts(): NamesParts {
    return { width: this.#width, size: this.#size, bytes: this.#bytes, slots: this.#slots }
  }

  /** The number of a name; NONE for one that is not here, and for what is no name. */
  numberOf(name: string): number {
    return this.#read(name) && name.length === this.#width * 2 ? (this.#slots[this.#slotOf(this.#asked, 0)] ?? NONE) : NONE
  }

  /** The number of a name, the next one if it is new. Throws for what is no name, or is of another length than those before. */
  add(name: string): number {
    if (!this.#read(name) || (this.#width > 0 && name.length !== this.#width * 2))
      throw new Error(`not an object name: ${name.slice(0, 80)}`)
    this.#width = name.length / 2
    const slot = this.#slotOf(this.#asked, 0)
    const known = this.#slots[slot] ?? NONE
    if (known !== NONE) return known
    const number = this.#size++
    if ((number + 1) * this.#width > this.#bytes.length) {
      const grown = new Uint8Array(Math.max(SLOTS_MIN / 2, number * 2) * this.#width)
      grown.set(this.#bytes)
      this.#bytes = grown
    }
    this.#bytes.set(this.#asked.subarray(0, this.#width), number * this.#width)
    this.#slots[slot] = number
    // Full by half, a name is found within one and a half looks on average.
    if (this.#size * 2 > this.#slots.length) this.#widen()
    return number
  }

  /** The name of a number that was given. */
  nameOf(number: number): string {
    const at = number * this.#width
    for (let byte = 0; byte < this.#width; byte++) {
      const value = this.#bytes[at + byte] ?? 0
      this.#codes[byte * 2] = DIGITS.charCodeAt(value >>> 4)
      this.#codes[byte * 2 + 1] = DIGITS.charCodeAt(value & 15)
    }
    return String.fromCharCode.apply(null, this.#codes.subarray(0, this.#width * 2) as unknown as number[])
  }

  /** The number of the only name that begins so; NONE when none does, or several do. Cost: O(n). */
  numberBeginning(prefix: string): number {
    if (!/^[0-9a-f]+$/.test(prefix)) return NONE
    const values = [...prefix].map((digit) => DIGITS.indexOf(digit))
    let found = NONE
    for (let number = 0; number < this.#size; number++) {
      const at = number * this.#width
      const fits = values.every((value, digit) => {
        const byte = this.#bytes[at + (digit >>> 1)] ?? 0
        return value === ((digit & 1) === 0 ? byte >>> 4 : byte & 15)
      })
      if (!fits) continue
      if (found !== NONE) return NONE
      found = number
    }
    return found
  }

  /** The same names under other numbers: the one at each place of `order` gets the place as its number. */
  reordered(order: readonly number[]): ObjectNames {
    const names = new ObjectNames()
    names.#width = this.#width
    names.#size = this.#size
    names.#bytes = new Uint8Array(this.#bytes.length)
    for (const [to, from] of order.entries())
      names.#bytes.set(this.#bytes.subarray(from * this.#width, (from + 1) * this.#width), to * this.#width)
    names.#slots = new Int32Array(this.#slots.length)
    names.#fill()
    return names
  }

  /** Whether it is a name; if so its bytes lie in `#asked`. */
  #read(name: string): boolean {
    if (name.length !== 40 && name.length !== 64) return false
    for (let byte = 0; byte * 2 < name.length; byte++) {
      const high = VALUE_BY_CODE[name.charCodeAt(byte * 2)] ?? 255
      const low = VALUE_BY_CODE[name.charCodeAt(byte * 2 + 1)] ?? 255
      if (high === 255 || low === 255) return false
      this.#asked[byte] = (high << 4) | low
    }
    return true
  }

  /** Where the number of the name stands that begins at a byte, or would stand. */
  #slotOf(bytes: Uint8Array, at: number): number {
    const mask = this.#slots.length - 1
    const first = ((bytes[at] ?? 0) << 24) | ((bytes[at + 1] ?? 0) << 16) | ((bytes[at + 2] ?? 0) << 8) | (bytes[at + 3] ?? 0)
    let slot = first & mask
    for (let number = this.#slots[slot] ?? NONE; number !== NONE; number = this.#slots[slot] ?? NONE) {
      if (this.#isAt(number, bytes, at)) return slot
      slot = (slot + 1) & mask
    }
    return slot
  }

  #isAt(number: number, bytes: Uint8Array, at: number): boolean {
    const own = number * this.#width
    for (let byte = 0; byte < this.#width; byte++) if (this.#bytes[own + byte] !== bytes[at + byte]) return false
    return true
  }

  #widen(): void {
    this.#slots = new Int32Array(this.#slots.length * 2)
    this.#fill()
  }

  #fill(): void {
    this.#slots.fill(NONE)
    for (let number = 0; number < this.#size; number++) this.#slots[this.#slotOf(this.#bytes, number * this.#width)] = number
  }
}
