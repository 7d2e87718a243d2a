/** What stands in place of personal data and secrets. */
const MARK = { mail: '[e-mail]', card: '[card number]', token: '[token]', removed: '[removed]' } as const
/** Names of values that are never kept, whatever they hold. */
const SECRET_NAME =
  /(?:^|[._-])(?:password|passwd|pwd|secret|authorization|auth[_-]?token|access[_-]?token|refresh[_-]?token|api[_-]?key|cookie|set-cookie|session[_-]?id|private[_-]?key|credentials?)$/i
const RULES: readonly [needs: RegExp, pattern: RegExp, mark: string | ((found: string) => string)][] = [
  [/@/, /[\w.+%-]{1,64}@[A-Za-z0-9-]{1,63}(?:\.[A-Za-z0-9-]{1,63}){0,4}\.[A-Za-z]{2,20}/g, MARK.mail],
  [/eyJ/, /\beyJ[\w-]{8,}\.[\w-]{8,}(?:\.[\w-]*)?/g, MARK.token],
  [/[Bb](?:earer|asic) /, /\b([Bb]earer|[Bb]asic) [\w.~+/-]{8,}=*/g, (found) => `${found.slice(0, found.indexOf(' '))} ${MARK.token}`],
  [
    /pass|pwd|secret|authoriz|token|api[_-]?key/i,
    /\b(?:password|passwd|pwd|secret|authorization|token|api[_-]?key)["']?\s{0,3}[:=]\s{0,3}["']?(?!\[)[^\s"',;&)]{3,}/gi,
    (found) => `${/^[^:=]*[:=]\s*["']?/.exec(found)?.[0] ?? ''}${MARK.removed}`,
  ],
  [/\d(?:[ -]?\d){12}/, /(?<![\w.-])\d(?:[ -]?\d){12,18}(?![\w-])/g, (found) => (isCardNumber(found) ? MARK.card : found)],
]

/** Rules of a team's own, beside those that are always there. `scrubText` must be linear in the text. */
export interface OwnScrub {
  scrubText(text: string): string
  removes(attribute: string): boolean
}

/** A text without e-mail addresses, tokens, secrets by their names, and card numbers (by their check digit), and without what own rules find. Linear in the text. */
export function scrubText(text: string, own?: OwnScrub): string {
  let scrubbed = own === undefined ? text : own.scrubText(text)
  for (const [needs, pattern, mark] of RULES)
    if (needs.test(scrubbed)) scrubbed = typeof mark === 'string' ? scrubbed.replace(pattern, mark) : scrubbed.replace(pattern, mark)
  return scrubbed
}

/** Attributes with all texts scrubbed, and those removed whose names say that they are secrets. Gives the same object where nothing had to go. */
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
  const digits = text.replace(/\D/g, '')
  let sum = 0
  for (let at = 0; at < digits.length; at++) {
    const digit = Number(digits[digits.length - 1 - at])
    const doubled = at % 2 === 1 ? digit * 2 : digit
    sum += doubled > 9 ? doubled - 9 : doubled
  }
  return sum % 10 === 0 && !/^(\d)\1*$/.test(digits)
}
