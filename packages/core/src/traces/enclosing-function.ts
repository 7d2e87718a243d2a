const PATTERNS: readonly RegExp[] = [
  /\bfunction\s*\*?\s*([\w$]+)\s*[(<]/,
  /^\s*(?:export\s+)?(?:const|let|var)\s+([\w$]+)\s*(?::[^=]+)?=\s*(?:async\s*)?(?:function\b|\([^)]*\)\s*(?::[^=]+)?=>|[\w$]+\s*=>)/,
  new RegExp(
    String.raw`^\s*(?:(?:public|private|protected|static|async|override|get|set|` +
      String.raw`readonly)\s+)*\*?([\w$#]+)\s*(?:<[^>]*>)?\([^;]*\)?\s*(?::[^={]+)?\{\s*$`,
  ),
  /^\s*([\w$]+)\s*:\s*(?:async\s*)?(?:function\b|\([^)]*\)\s*=>)/,
]
const NO_NAMES = new Set([
  'if',
  'for',
  'while',
  'switch',
  'catch',
  'return',
  'else',
  'do',
  'try',
  'with',
  'super',
  'new',
  'await',
  'constructor',
])
const LINES_UP_MAX = 300

/**
 * The name of the function around a line of JavaScript or TypeScript, by its layout: the nearest line above that stands further out and
 * opens one. Null where none is found. O(lines).
 */
export function enclosingFunction(lines: readonly string[], line: number): string | null {
  const indentOf = (text: string) => text.length - text.trimStart().length
  let indent = indentOf(lines[line - 1] ?? '')
  const nameIn = (text: string) => {
    for (const pattern of PATTERNS) {
      const name = pattern.exec(text)?.[1]
      if (name !== undefined && !NO_NAMES.has(name)) return name
    }
    return null
  }
  // A function of one line is its own.
  const own = nameIn(lines[line - 1] ?? '')
  if (own !== null) return own
  for (let at = line - 2; at >= Math.max(0, line - LINES_UP_MAX); at--) {
    const text = lines[at] ?? ''
    if (text.trim() === '' || indentOf(text) >= indent) continue
    indent = indentOf(text)
    const name = nameIn(text)
    if (name !== null) return name
  }
  return null
}
