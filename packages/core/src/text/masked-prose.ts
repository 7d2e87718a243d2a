/**
 * The text with everything that is not the author's own prose blanked out (same length, line breaks kept):
 * fenced and inline code, quoted lines, URLs. Linear in the length of the text.
 */
export function maskForeignText(text: string): string {
  const lines = text.split('\n')
  let fence: string | null = null
  const kept = lines.map((line) => {
    const opener = /^\s{0,3}(```+|~~~+)/.exec(line)?.[1]
    if (fence) {
      if (opener && opener[0] === fence[0] && opener.length >= fence.length) fence = null
      return blank(line)
    }
    if (opener) {
      fence = opener
      return blank(line)
    }
    if (/^\s{0,3}>/.test(line)) return blank(line)
    return line
  })
  return maskInlineCode(kept.join('\n')).replace(/\b[a-z][a-z0-9+.-]{1,20}:\/\/[^\s<>"']+/gi, blank)
}

function blank(text: string): string {
  return text.replace(/[^\n]/g, ' ')
}

/** A run of n backticks is closed by the next run of exactly n (CommonMark 6.1); an unclosed run is plain text. */
function maskInlineCode(text: string): string {
  const runs = [...text.matchAll(/`+/g)].map((match) => ({ at: match.index, length: match[0].length }))
  const nextByLength = new Map<number, number[]>()
  for (const run of runs) {
    const list = nextByLength.get(run.length) ?? []
    list.push(run.at)
    nextByLength.set(run.length, list)
  }
  let out = ''
  let copiedTo = 0
  const cursorByLength = new Map<number, number>()
  for (const run of runs) {
    if (run.at < copiedTo) continue
    const places = nextByLength.get(run.length) ?? []
    let cursor = cursorByLength.get(run.length) ?? 0
    while (cursor < places.length && (places[cursor] ?? 0) <= run.at) cursor++
    cursorByLength.set(run.length, cursor)
    const closeAt = places[cursor]
    if (closeAt === undefined) continue
    const end = closeAt + run.length
    out += text.slice(copiedTo, run.at) + blank(text.slice(run.at, end))
    copiedTo = end
  }
  return out + text.slice(copiedTo)
}
