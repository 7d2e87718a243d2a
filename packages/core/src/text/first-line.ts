/** The first line of a text, as it stands: of a commit's message, its subject. */
export function firstLine(text: string): string {
  return text.split('\n', 1)[0] ?? ''
}
