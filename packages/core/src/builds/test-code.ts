/** Lines of a file, from a line on. */
export interface CodeLines {
  from: number
  lines: string[]
}

const LINES_MAX = 40

/**
 * The code of a test in the text of its file: from the line that holds its name to the line that ends the block, which is the first of no
 * deeper indentation after it that is not blank and no closing line of several. A name that runners put a suite before is looked for
 * without it, too. Null where the name does not stand there. Linear.
 */
export function codeOfTest(text: string, name: string): CodeLines | null {
  const lines = text.split('\n')
  const at = [name, name.slice(name.lastIndexOf(' › ') + 3), name.replace(/^.* > /, '')]
    .filter((one, index, all) => one.trim() !== '' && all.indexOf(one) === index)
    .map((one) => lines.findIndex((line) => line.includes(one)))
    .find((found) => found >= 0)
  if (at === undefined) return null
  const depth = depthOf(lines[at] ?? '')
  let end = at + 1
  while (end < lines.length && end - at < LINES_MAX && ((lines[end] ?? '').trim() === '' || depthOf(lines[end] ?? '') > depth)) end++
  // The line that closes a block belongs to it: a bracket, or a word such as `end`.
  if (/^\s*(?:[)\]}]|end\b)/.test(lines[end] ?? '')) end++
  const block = lines.slice(at, end)
  while (block.at(-1)?.trim() === '') block.pop()
  return { from: at + 1, lines: block }
}

function depthOf(line: string): number {
  return /^[ \t]*/.exec(line)?.[0].replaceAll('\t', '    ').length ?? 0
}
