const MESSAGE_MAX = 500

/** Values that vary between occurrences of one cause, most specific first. */
const VARYING: readonly [RegExp, string][] = [
  [/\b[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}\b/gi, '<uuid>'],
  [/\b\d{4}-\d{2}-\d{2}(?:[T ]\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?(?:Z|[+-]\d{2}:?\d{2})?)?/g, '<time>'],
  [/\b[\w.+-]+@[\w-]+\.[\w.-]+\b/g, '<mail>'],
  [/\b[a-z][a-z0-9+.-]{1,10}:\/\/\S+/gi, '<url>'],
  [/\b\d{1,3}(?:\.\d{1,3}){3}(?::\d+)?\b/g, '<address>'],
  [/\b0x[0-9a-f]+\b/gi, '<hex>'],
  [/\b(?=[0-9a-f]*\d)(?=[0-9a-f]*[a-f])[0-9a-f]{7,}\b/gi, '<hex>'],
  [/"[^"\n]{0,200}"/g, '<text>'],
  [/(?<!\w)-?\d+(?:[.,]\d+)*/g, '<number>'],
]

/**
 * The message with its varying values replaced by their kind: `kiln 7 at 812 °C` gives `kiln <number> at <number> °C`. Names in
 * single quotes stay, since runtimes quote property names that way. At most 500 characters are read.
 */
export function maskMessage(message: string): string {
  let masked = message.slice(0, MESSAGE_MAX)
  for (const [pattern, kind] of VARYING) masked = masked.replace(pattern, kind)
  return masked.replace(/\s+/g, ' ').trim()
}
