/** A `Name: value` line at the end of a message, as git's interpret-trailers reads it. */
export interface Trailer {
  name: string
  value: string
  line: number
}

const TRAILER_LINE = /^([A-Za-z][A-Za-z0-9-]*)\s*:\s*(.*)$/

/**
 * The trailers of a commit message, in order: the last paragraph counts when it is not the first and when all its lines are
 * trailers or their continuations, or at least a quarter is (git-interpret-trailers(1)). Names keep their spelling.
 */
export function parseTrailers(message: string): Trailer[] {
  const lines = message.replace(/\r\n?/g, '\n').trimEnd().split('\n')
  let start = lines.length
  while (start > 0 && lines[start - 1]?.trim() !== '') start--
  if (start === 0) return []
  const trailers: Trailer[] = []
  let others = 0
  for (let index = start; index < lines.length; index++) {
    const line = lines[index] ?? ''
    const last = trailers.at(-1)
    if (/^\s/.test(line) && last) {
      last.value = `${last.value} ${line.trim()}`
      continue
    }
    const match = TRAILER_LINE.exec(line)
    if (match) trailers.push({ name: match[1] ?? '', value: (match[2] ?? '').trim(), line: index })
    else if (!/^\(cherry picked from commit /.test(line)) others++
  }
  return others === 0 || trailers.length * 3 >= others ? trailers : []
}
