import { LRUCache } from 'lru-cache'
import type { Frame } from './trace.js'

/** Names that say nothing by themselves: the folder above belongs to them. */
const PLAIN_FILE = /^(?:index|main|app|mod|lib|init|__init__|__main__|utils?|helpers?|common|server|client|types|base)\.\w+$/

/** A program has few functions and many traces: what was worked out for one is kept, up to a number. */
const REMEMBERED_MAX = 20_000
const NAME_MAX = 300
type Known<Value> = LRUCache<string, { value: Value }>
const functions: Known<string | null> = new LRUCache({ max: REMEMBERED_MAX })
const guards: Known<boolean> = new LRUCache({ max: REMEMBERED_MAX })
const files: Known<string> = new LRUCache({ max: REMEMBERED_MAX })

function remembered<Value>(known: Known<Value>, key: string, work: () => Value): Value {
  const before = known.get(key)
  if (before) return before.value
  const value = work()
  known.set(key, { value })
  return value
}

/**
 * A file by its name, with the folder above where the name alone says little; without what builds and deployments add: hashes, versions,
 * queries.
 */
export function comparableFile(file: string | null): string {
  return remembered(files, file ?? '', () => plainFile(file ?? ''))
}

function plainFile(file: string): string {
  const segments = file
    .replace(/[?#].*$/, '')
    .replaceAll('\\', '/')
    .split('/')
    .filter((part) => part !== '' && part !== '.' && part !== '..')
  const name = (segments.at(-1) ?? '').replace(/[.-](?:[0-9a-f]{8,}|(?=[A-Z0-9_-]*\d)[A-Z0-9_-]{8})(?=\.\w+$)/i, '')
  return PLAIN_FILE.test(name) && segments.length > 1 ? `${segments.at(-2)}/${name}` : name
}

/** The last word of a type: packages and modules before it differ by how it was printed. */
export function comparableType(type: string): string {
  return type.split(/[.:\\]/).findLast((part) => part !== '') ?? type
}

/**
 * A function by its own name: without its owner, arguments, what compilers add, and numbers that are given anew by each build. Null for one
 * without a name.
 */
export function comparableFunction(name: string | null): string | null {
  return name === null ? null : remembered(functions, name, () => ownName(name))
}

function ownName(name: string): string | null {
  // No more of a name tells functions apart; patterns that look for what ends it would read a longer one many times.
  const plain = name
    .slice(0, NAME_MAX)
    .replace(/^(?:async |new )/, '')
    .replace(/^(?:(?:block|rescue|ensure)(?: \(\d+ levels\))? in )+/, '')
    .replace(/lambda\$(\w+?)\$\d+$/, '$1')
    .replace(/\$(?:lambda|suspendImpl|default)(?:[$-]\d+)?$/, '')
    .replace(/(?:\.func\d+|\.gowrap\d+|-fm|-range\d+|\.\d+)+$/, '')
    .replace(/(?:::\{\{?closure(?:#\d+)?\}\}?)+$/, '')
    .replace(/\[\.\.\.\]$/, '')
  const last =
    plain
      .replace(/\([^()]*\)$/, '')
      .split(/::|->|[.#\\/]/)
      .findLast((part) => part !== '') ?? ''
  if (last === '' || /^(?:<[\w ]*>|\{closure.*|__ANON__|anonymous|\(anonymous\)|invoke|call|apply)$/.test(last) || /^[<{]/.test(last))
    return null
  return last.replace(/[-_$](?=[a-f]*\d)[0-9a-f]{4,}$/i, '').replace(/\$\d+$/, '')
}

/** The function that a frame lies in: its own, or for one without a name the nearest one around it in the same file. */
export function functionOf(frames: readonly Frame[], at: number): string | null {
  const file = frames[at]?.file
  for (let index = at; index < Math.min(frames.length, at + 12); index++) {
    const frame = frames[index]
    if (frame?.file !== file) continue
    const name = comparableFunction(frame?.function ?? null)
    if (name !== null) return name
  }
  return null
}

/** Words that a function's name may have and still say nothing of what it guards. */
const GENERIC = new Set(
  `arg args argument arguments param params parameter parameters not non null nil none undefined empty blank present presence exist
   exists field key keys type types range bounds index value values option options required config length size positive negative zero
   string number integer state text int float boolean array list map object function instance set filled given provided supplied
   valid defined finite numeric allowed known true false equal equals all any some of is are has in at least most less greater than
   unique truthy`.split(/\s+/),
)
const DEMANDS = new RegExp(
  `^(?:require|required|requires|assert|asserts|must|need|needs|demand|demands|expect|expects|guard|enforce|` +
    `precondition|preconditions|invariant|mandatory)$`,
)
const LOOKS_AT = /^(?:check|checked|ensure|ensures|validate|verify|is)$/
const SHAPES = new RegExp(
  `^(?:not|non|no)(?:null|nil|none|blank|empty|negative|zero)$|^(?:positive|nonnegative|inrange|withinrange|` +
    `inbounds|notblank|notnull|notempty|nonempty|nonnull|between|atleast|atmost)$`,
)
const GUARDS = new RegExp(
  `^(?:guards?|checks?|needs?|require|requires|requirements?|asserts?|assertions?|ensure|preconditions?|validate|` +
    `validators?|validations?|contracts?|arguments|args|must|verify)$`,
  'i',
)

/** The words of a name in small letters: `notBlank`, `not_blank` and `NotBlank` are `not`, `blank`. */
function wordsOf(name: string): string[] {
  return name
    .replace(/([a-z0-9])([A-Z])/g, '$1 $2')
    .split(/[^A-Za-z0-9]+/)
    .map((word) => word.toLowerCase())
    .filter(Boolean)
}

/**
 * Whether a frame is that of a shared guard: a function that only says that what it was given is not acceptable, so that its caller is to
 * blame. Told by the trade's words for such functions, in its
 * own name or in that of what it belongs to (`Guard.notBlank`, `check::in_range`, `requireField`, `fetch!`).
 */
export function isGuard(frame: Frame): boolean {
  return remembered(guards, `${frame.function}\n${frame.file}`, () => looksLikeGuard(frame))
}

function looksLikeGuard(frame: Frame): boolean {
  const name = comparableFunction(frame.function)
  if (name === null) return false
  const words = wordsOf(name)
  const [first = '', ...rest] = words
  if (DEMANDS.test(first) || SHAPES.test(words.join(''))) return true
  if (/^(?:throw|raise|fail|die|panic|abort|reject|bail|croak)(?:If|Unless|When|_if|_unless|_when)(?![a-z])/.test(name)) return true
  if (/^(?:fetch|get|find|lookup|read|take)!$/.test(name) || /(?:OrThrow|OrFail|OrDie|OrRaise|_or_(?:throw|fail|die|raise))$/.test(name))
    return true
  if (LOOKS_AT.test(first) && rest.length > 0 && rest.every((word) => GENERIC.has(word))) return true
  const owner =
    (frame.function ?? '')
      .split(/::|->|[.#\\/$]/)
      .filter(Boolean)
      .at(-2) ?? ''
  const base = comparableFile(frame.file)
    .replace(/^.*\//, '')
    .replace(/\.\w+$/, '')
  return [owner, base].some((text) => GUARDS.test(wordsOf(text).at(-1) ?? '') && wordsOf(text).length <= 2)
}
