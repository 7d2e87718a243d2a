/** A prefix that a name suggests: its initials, or the beginning of its only word. */
export function suggestPrefix(name: string): string {
  const words = name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toUpperCase()
    .match(/[A-Z0-9]+/g)
  if (!words) return ''
  const letters = words.length > 1 ? words.map((word) => word[0]).join('') : (words[0] ?? '').slice(0, 3)
  return letters.replace(/^[0-9]+/, '').slice(0, 5)
}
