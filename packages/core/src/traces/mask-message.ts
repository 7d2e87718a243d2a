const MESSAGE_MAX = 500
/** Values that vary between occurrences of one cause, most specific first; each with what a text must hold for it to be tried. */
const VARYING: readonly [needs: RegExp | string, pattern: RegExp, kind: string][] = [
  ['-', /\b[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}\b/gi, '<uuid>'],
  ['-', /\b\d{4}-\d{2}-\d{2}(?:[T ]\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?(?:Z|[+-]\d{2}:?\d{2})?)?/g, '<time>'],
  ['@', /\b[\w.+-]{1,100}@[\w-]+\.[\w.-]+\b/g, '<mail>'],
  ['://', /\b[a-z][a-z0-9+.-]{1,10}:\/\/\S+/gi, '<url>'],
  ['.', /\b\d{1,3}(?:\.\d{1,3}){3}(?::\d+)?\b/g, '<address>'],
  [/[\\/]/, /(?<![\w/])(?:[A-Za-z]:\\|~?\/)(?:[\w.@+-]+[\\/])+[\w.@+-]*/g, '<path>'],
  ['0x', /\b0x[0-9a-f]+\b/gi, '<hex>'],
  [/\d/, /\b(?=[0-9a-f]*\d)(?=[0-9a-f]*[a-f])[0-9a-f]{7,}\b/gi, '<hex>'],
  ['"', /"[^"\n]{0,200}"/g, '<text>'],
  [/\d/, /(?<!\w)-?\d+(?:[.,]\d+)*/g, '<number>'],
]

/**
 * The message with its varying values replaced by their kind: `kiln 7 at 812 °C` gives `kiln <number> at <number> °C`. Names in
 * single quotes stay, since runtimes quote property names that way. At most 500 characters are read.
 */
export function maskMessage(message: string): string {
  let masked = message.slice(0, MESSAGE_MAX)
  for (const [needs, pattern, kind] of VARYING)
    if (typeof needs === 'string' ? masked.includes(needs) : needs.test(masked)) masked = masked.replace(pattern, kind)
  return masked.replace(/\s+/g, ' ').trim()
}

/**
 * What runtimes say in their own words, which change with their versions: one form for each meaning, with the name that it is about. Tried
 * in order on a message without its values.
 */
const MEANINGS: readonly [RegExp, string][] = [
  [/^Cannot read propert(?:y|ies) (?:'([^']+)' )?of (?:undefined|null)(?: \(reading '([^']+)'\))?$/, 'read $1$2 of nothing'],
  [/^(?:undefined|null) is not an object \(evaluating '(?:[^']*?[.[])?['"]?([\w$]+)['"]?\]?'\)$/, 'read $1 of nothing'],
  [/^can't access property "?([\w$]+)"?(?: of|, ).*$/, 'read $1 of nothing'],
  [/^(?:[\w$.[\]]+) is (?:undefined|null)$/, 'read of nothing'],
  [/^Cannot set propert(?:y|ies) (?:'([^']+)' )?of (?:undefined|null)(?: \(setting '([^']+)'\))?$/, 'set $1$2 of nothing'],
  [/^(?:[\w$]+(?:\([^)]*\))?[.])*([\w$]+)(?:\([^)]*\))? is not (a function|a constructor|iterable|defined)(?:.*)$/, '$1 is not $2'],
  [
    /^(?:Unexpected (?:token|end|identifier|string|number|non-whitespace)|JSON Parse error|JSON\.parse: |.* is not valid JSON).*$/,
    'no JSON',
  ],
  [
    new RegExp(
      `^Maximum call stack size exceeded.*$|^too much recursion$|^maximum recursion depth exceeded.*$|` +
        `^stack level too deep$|^stack overflow$`,
    ),
    'recursion',
  ],
  [/^undefined (?:local variable or )?method [`']([^']+)' for .*$/s, 'undefined method $1'],
  [/^(?:undefined method [`']([^']+)' for nil)(?::NilClass)?.*$/s, 'undefined method $1'],
  [/^Cannot invoke "(?:[\w.$<>[\]]*\.)?([\w$]+)\([^"]*\)" because .*$/, 'invoke $1 of nothing'],
  [/^Cannot (?:read|assign) field "([\w$]+)" because .*$/, 'field $1 of nothing'],
  [
    /^(?:integer )?(?:division|modulo)(?: or modulo)? by zero$|^(?:integer )?(?:division|modulo) by zero$|^float division by zero$/,
    'division by zero',
  ],
  [/^assertion (?:failed: )?[`(]*left == right[`)]*(?: failed)?(?:: )?(.*?)(?: left: .*)?$/s, 'left is not right: $1'],
  [/^Index -?<number> out of bounds for length <number>$|^Array index out of range: <number>$|^<number>$/, 'index out of bounds'],
  [/^For input string: .*$/, 'no number'],
]

/** One word at least of every saying above; most messages have none of them. */
const SAYING = new RegExp(
  `annot |is not |Unexpected|JSON|undefined|null|exceeded|recursion|too deep|stack overflow|divi|modulo|assertion|` +
    `ndex|input string|^<number>$`,
)

/**
 * What a message means, apart from its values and from the words that versions of a runtime differ in: two messages of one cause are equal
 * by it or share most of their words. Data in single quotes is
 * masked too, unless it names something of the program.
 */
export function messageTemplate(message: string): string {
  const [first = '', ...more] = message.slice(0, MESSAGE_MAX).trim().split('\n')
  const masked = maskMessage(first)
  const said = first.trim()
  if (SAYING.test(said) || SAYING.test(masked))
    for (const [pattern, meaning] of MEANINGS) {
      if (pattern.test(said)) return maskMessage(said.replace(pattern, meaning))
      if (pattern.test(masked)) return masked.replace(pattern, meaning).replace(/\s+/g, ' ').trim()
    }
  const whole = first.trim() === '' ? maskMessage(more.join(' ')) : masked
  return whole.replace(/(?<!\w)'[^'\n]{0,200}'(?!\w)/g, '<text>')
}

/** How much two templates share, from 0 to 1: words at the same places from either end. */
export function templateLikeness(a: string, b: string): number {
  if (a === b) return 1
  const [left, right] = [a.split(' '), b.split(' ')]
  const most = Math.max(left.length, right.length)
  let front = 0
  while (front < Math.min(left.length, right.length) && left[front] === right[front]) front++
  let back = 0
  while (back < Math.min(left.length, right.length) - front && left.at(-1 - back) === right.at(-1 - back)) back++
  return (front + back) / most
}
