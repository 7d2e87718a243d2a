/** A change of lines of one file: `line` to `lastLine`, from 1, give way to `text`; an empty text takes them out. */
export interface LineChange {
  path: string
  line: number
  lastLine: number
  text: string
}

/** Two changes that touch a line both of them: the first such pair; null where there is none. */
export function overlapIn(changes: readonly LineChange[]): [LineChange, LineChange] | null {
  const sorted = [...changes].sort((a, b) => (a.path < b.path ? -1 : a.path > b.path ? 1 : a.line - b.line))
  for (const [at, change] of sorted.entries()) {
    const next = sorted[at + 1]
    if (next && next.path === change.path && next.line <= change.lastLine) return [change, next]
  }
  return null
}

/**
 * A text with some of its lines changed; those of other files are passed over. Null where a change names lines that the text does not have.
 * The changes must not overlap. Line ends stay as they are in the text: where it ends its lines by CR LF, so do the new ones.
 */
export function withLinesChanged(text: string, changes: readonly Omit<LineChange, 'path'>[]): string | null {
  const lineEnd = /\r\n/.test(text) ? '\r\n' : '\n'
  const lines = text.split(/\r?\n/)
  // A text that ends its last line has one line less than pieces.
  const count = lines.at(-1) === '' ? lines.length - 1 : lines.length
  for (const { line, lastLine, text: instead } of [...changes].sort((a, b) => b.line - a.line)) {
    if (line < 1 || lastLine < line || lastLine > count) return null
    lines.splice(line - 1, lastLine - line + 1, ...(instead === '' ? [] : instead.split(/\r?\n/)))
  }
  return lines.join(lineEnd)
}
