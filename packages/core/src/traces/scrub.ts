/** What stands in place of personal data and secrets. */
const MARK = { mail: '[e-mail]', card: '[card number]', token: '[token]', removed: '[removed]' } as const
/** Names of values that are never kept, whatever they hold. */
const SECRET_NAME = new RegExp(
  `(?:^|[._-])(?:password|passwd|pwd|secret|authorization|auth[_-]?token|access[_-]?token|refresh[_-]?token|` +
    `api[_-]?key|cookie|set-cookie|session[_-]?id|private[_-]?key|credentials?)$`,
  'i',
)
const RULES: readonly [needs: RegExp, pattern: RegExp, mark: string | ((found: string) => string)][] = [
  // A run of token characters is tried once, at its beginning, so that none is read again and again.
  [/eyJ/, /(?<![\w-])eyJ[\w-]{8,}\.[\w-]{8,}(?:\.[\w-]*)?/g, MARK.token],
  [/[Bb](?:earer|asic) /, /\b([Bb]earer|[Bb]asic) [\w.~+/-]{8,}=*/g, (found) => `${found.slice(0, found.indexOf(' '))} ${MARK.token}`],
  [
    /pass|pwd|secret|authoriz|token|api[_-]?key/i,
    /\b(?:password|passwd|pwd|secret|authorization|token|api[_-]?key)["']?\s{0,3}[:=]\s{0,3}["']?(?!\[)[^\s"',;&)]{3,}/gi,
    (found) => `${/^[^:=]*[:=]\s*["']?/.exec(found)?.[0] ?? ''}${MARK.removed}`,
  ],
  [/\d(?:[ -]?\d){12}/, /(?<![\w.-])\d(?:[ -]?\d){12,18}(?![\w-])/g, (found) => (isCardNumber(found) ? MARK.card : found)],
]

/** What a text must hold for any rule to find something; most hold none of it. */
const ANY = /@|eyJ|(?:bearer|basic) |pass|pwd|secret|authoriz|token|api[_-]?key|\d(?:[ -]?\d){12}/i
/** Rules of a team's own, beside those that are always there. `scrubText` must be linear in the text. */
export interface OwnScrub {
  scrubText(text: string): string
  removes(attribute: string): boolean
}

/**
 * A text without e-mail addresses, tokens, secrets by their names, and card numbers (by their check digit), and without what own rules
 * find. Linear in the text.
 */
export function scrubText(text: string, own?: OwnScrub): string {
  let scrubbed = own === undefined ? text : own.scrubText(text)
  if (!ANY.test(scrubbed)) return scrubbed
  scrubbed = scrubMails(scrubbed)
  for (const [needs, pattern, mark] of RULES)
    if (needs.test(scrubbed)) scrubbed = typeof mark === 'string' ? scrubbed.replace(pattern, mark) : scrubbed.replace(pattern, mark)
  return scrubbed
}

/** Lengths after RFC 5321. */
const LOCAL_MAX = 64
const LOCAL_CHARS = new Set([...'abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789_.+%-'].map((char) => char.charCodeAt(0)))
const DOMAIN = /[A-Za-z0-9-]{1,63}(?:\.[A-Za-z0-9-]{1,63}){0,4}\.[A-Za-z]{2,20}/y

/** A text without e-mail addresses: from each at sign a bounded way back and forth. */
function scrubMails(text: string): string {
  let scrubbed = ''
  let done = 0
  for (let at = text.indexOf('@'); at >= 0; at = text.indexOf('@', at + 1)) {
    let from = at
    while (from > Math.max(done, at - LOCAL_MAX) && LOCAL_CHARS.has(text.charCodeAt(from - 1))) from--
    DOMAIN.lastIndex = at + 1
    if (from === at || !DOMAIN.test(text)) continue
    scrubbed += text.slice(done, from) + MARK.mail
    done = DOMAIN.lastIndex
  }
  return scrubbed + text.slice(done)
}

/**
 * Attributes with all texts scrubbed, and those removed whose names say that they are secrets. Gives the same object where nothing had to
 * go.
 */
export function scrubAttributes<Value>(attributes: Readonly<Record<string, Value>>, own?: OwnScrub): Readonly<Record<string, Value>> {
  let changed: Record<string, Value> | null = null
  for (const [name, value] of Object.entries(attributes)) {
    const isSecret = (SECRET_NAME.test(name) || own?.removes(name) === true) && value !== null
    const next = isSecret ? (MARK.removed as Value) : scrubValue(value, 0, own)
    if (next === value) continue
    changed ??= { ...attributes }
    changed[name] = next
  }
  return changed ?? attributes
}

function scrubValue<Value>(value: Value, depth: number, own: OwnScrub | undefined): Value {
  if (typeof value === 'string') return scrubText(value, own) as Value
  if (typeof value !== 'object' || value === null || depth > 16) return value
  if (!Array.isArray(value)) return scrubAttributes(value as Record<string, unknown>, own) as Value
  const list = value.map((entry: unknown) => scrubValue(entry, depth + 1, own))
  return (list.some((entry, at) => entry !== value[at]) ? list : value) as Value
}

/** Luhn's check (ISO/IEC 7812-1, annex B): the check digit of card numbers. */
function isCardNumber(text: string): boolean {
  const first = text.charCodeAt(0)
  let sum = 0
  let place = 0
  let isOneDigit = true
  for (let at = text.length - 1; at >= 0; at--) {
    const code = text.charCodeAt(at)
    if (code < 48 || code > 57) continue
    const doubled = (code - 48) * (place++ % 2 === 1 ? 2 : 1)
    sum += doubled > 9 ? doubled - 9 : doubled
    isOneDigit &&= code === first
  }
  return sum % 10 === 0 && !isOneDigit
}
