/** The word behind a code fence by which a remark proposes what its lines should be instead. */
export const INSTEAD = 'instead'

/** A change of lines of one file: `line` to `lastLine`, from 1, give way to `text`; an empty text takes them out. */
export interface LineChange {
  path: string
  line: number
  lastLine: number
  text: string
}

/**
 * What a remark proposes in place of its lines: the inside of its first fence marked `instead`; null where it proposes nothing. Fences are
 * read as CommonMark does: three backticks or tildes or more, closed by as many of the same.
 */
export function readInstead(markdown: string): string | null {
  const lines = markdown.split(/\r?\n/)
  for (const [at, line] of lines.entries()) {
    const opening = /^ {0,3}(`{3,}|~{3,})\s*(\S*)\s*$/.exec(line)
    if (!opening || opening[2]?.toLowerCase() !== INSTEAD) continue
    const mark = opening[1] ?? '```'
    const isEnd = (other: string) => new RegExp(`^ {0,3}${mark[0] === '~' ? '~' : '`'}{${mark.length},}\\s*$`).test(other)
    const end = lines.findIndex((other, index) => index > at && isEnd(other))
    return end < 0 ? null : lines.slice(at + 1, end).join('\n')
  }
  return null
}

/** A remark's text with a fence for what should stand there instead, longer than any fence within. */
export function writeInstead(words: string, text: string): string {
  const longest = Math.max(2, ...[...text.matchAll(/`+/g)].map(([run]) => run.length))
  const fence = '`'.repeat(longest + 1)
  return `${words === '' ? '' : `${words}\n\n`}${fence}${INSTEAD}\n${text}\n${fence}`
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
