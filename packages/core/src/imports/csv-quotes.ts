/**
 * The row in which a quotation mark is opened that the rest of a table never closes, counted from 1 with the heading; null where all are
 * closed. Read as RFC 4180 says: a mark opens at the beginning of a cell alone, and a doubled one inside is itself. One pass, O(n).
 */
export function rowOfUnclosedQuote(text: string, delimiter: string): number | null {
  let row = 1
  let openedIn: number | null = null
  let isAtStart = true
  for (let at = 0; at < text.length; at++) {
    const char = text[at]
    if (openedIn !== null) {
      if (char === '\n') row++
      if (char !== '"') continue
      if (text[at + 1] === '"') at++
      else openedIn = null
      continue
    }
    if (char === '"' && isAtStart) openedIn = row
    if (char === '\n') row++
    isAtStart = char === '\n' || char === '\r' || char === delimiter
  }
  return openedIn
}
