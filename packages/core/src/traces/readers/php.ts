import type { Frame, TraceException, TraceReader } from '../trace.js'
import { aFrame, anException, numberOf, splitPosition, withoutArguments, type Position } from './frame.js'

const FRAME = /^#(\d+) (?:(.+?)\((\d+)\)|\[internal function\]|\{main\}|(.+?))(?:: (.*))?$/

/**
 * Traces of PHP: a head with the place where it was thrown, below it `#n file(line): call()`, each place being that of the call; `Next`
 * begins the exception that was thrown because of the one above.
 */
export const phpReader: TraceReader = {
  language: 'php',
  recognises: (line) =>
    /^#\d+ (?:.+\.(?:php|phtml|inc)\(\d+\): |\[internal function\]: |\{main\}$)/.test(line) ||
    (/^(?:PHP )?(?:Fatal|Parse|Recoverable fatal) error:\s/.test(line) &&
      line.includes(' in ') &&
      /(?:\.php|code)(?::\d+| on line \d+)/.test(line)) ||
    /^PHP Fatal error: /.test(line),
  read: (lines) => {
    const blocks: { head: string[]; calls: RegExpExecArray[] }[] = [{ head: [], calls: [] }]
    for (const line of lines) {
      const call = FRAME.exec(line)
      if (/^Next /.test(line)) blocks.push({ head: [line.slice(5)], calls: [] })
      else if (call) blocks.at(-1)?.calls.push(call)
      else if (blocks.at(-1)?.calls.length === 0 && line !== 'Stack trace:') blocks.at(-1)?.head.push(line)
    }
    let cause: TraceException | null = null
    for (const { head, calls } of blocks) {
      const exception = readBlock(head.join('\n').trim(), calls)
      if (exception) cause = { ...exception, cause }
    }
    return cause
  },
}

function readBlock(head: string, calls: readonly RegExpExecArray[]): TraceException | null {
  const text = head
    .replace(/^(?:PHP )?(?:Fatal|Recoverable fatal|Parse) error:\s*/i, '')
    .replace(/^Uncaught (?:exception )?/, '')
    .replace(/^'([\w\\]+)' with message '([\s\S]*?)' in /, '$1: $2 in ')
  const placed = readPlace(text)
  if (!placed && calls.length === 0) return null
  const said = placed?.said ?? text
  const match = /^([A-Za-z_][\w\\]*)(?:: ([\s\S]*))?$/.exec(said)
  const frames: Frame[] = []
  let file = placed?.position.file ?? null
  let line = placed?.position.line ?? null
  // Each call is named at the place that it was made from: its function is the one that the place above lies in.
  for (const call of calls) {
    const name = call[5] === undefined ? null : withoutArguments(call[5])
    frames.push(aFrame({ function: name, file, line, isApp: isAppFile(file) }))
    file = call[2] ?? null
    line = numberOf(call[3])
  }
  if (calls.length === 0) frames.push(aFrame({ file, line, isApp: isAppFile(file) }))
  return anException({
    type: match?.[1] ?? '',
    message: (match ? (match[2] ?? '') : said).trim(),
    frames: frames.filter((frame) => frame.file !== null || frame.function !== null),
  })
}

/** What is said, and the place that the last line ends in: `… in file:line` or `… in file on line n`. */
function readPlace(text: string): { said: string; position: Position } | null {
  const from = text.indexOf(' in ', text.lastIndexOf('\n') + 1) < 0 ? -1 : text.lastIndexOf(' in ')
  if (from < 0) return null
  const place = text.slice(from + 4)
  const on = place.lastIndexOf(' on line ')
  const position =
    on > 0 && /^\d+$/.test(place.slice(on + 9))
      ? { file: place.slice(0, on), line: numberOf(place.slice(on + 9)), column: null }
      : splitPosition(place)
  return position && /^\S/.test(place) ? { said: text.slice(0, from), position } : null
}

function isAppFile(file: string | null): boolean {
  return file !== null && !/\/vendor\/|\/pear\/|eval\(\)'d code|^phar:/.test(file)
}
