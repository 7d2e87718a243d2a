/** What the text of a rule may leave room for; `report` is all that is said where a rule has no text of its own. */
export const TEXT_PARTS = [
  'report',
  'fault',
  'service',
  'type',
  'message',
  'function',
  'file',
  'line',
  'release',
  'environments',
  'count',
  'people',
] as const
/** One of those. */
export type TextPart = (typeof TEXT_PARTS)[number]

const PART = /\{([a-z]+)\}/g
const known: ReadonlySet<string> = new Set(TEXT_PARTS)

/** What stands in braces in a text as such room does, and is none; each once. */
export function unknownParts(text: string): string[] {
  return [...new Set([...text.matchAll(PART)].map(([, name]) => name ?? '').filter((name) => !known.has(name)))]
}

/**
 * A text of a rule with its room filled: `{message}` by the message, and so on. What fills it is put in as it is and not looked through
 * again, so that a message with braces cannot ask for anything. O(length).
 */
export function fillText(text: string, values: Readonly<Record<TextPart, string>>): string {
  return text.replaceAll(PART, (whole, name: string) => (known.has(name) ? values[name as TextPart] : whole))
}

/** Whether a text leaves room for a part. */
export function hasPart(text: string, part: TextPart): boolean {
  return text.includes(`{${part}}`)
}
