/** A text without its markup, for places that show it as a line or a sentence: words, breaks and the marks of lists stay. */
export function plainText(text: string): string {
  return text
    .replace(/!\[([^\]\n]*)\]\([^)\n]*\)/g, '($1)')
    .replace(/\[([^\]\n]*)\]\([^)\n]*\)/g, '$1')
    .replace(/\*\*|__|~~|`/g, '')
    .replace(/^#{1,6}\s+/gm, '')
    .replace(/\\([!-/:-@[-`{-~])/g, '$1')
}
