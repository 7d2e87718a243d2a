import type { Frame, TraceException, TraceReader } from '../trace.js'
import { aFrame, anException, numberOf, splitPosition } from './frame.js'

interface RubyPlace {
  file: string
  line: number | null
  name: string
}

/** `file:line:in 'method': message (Type)`; older versions open the quote with a back tick. */
function readHead(line: string): (RubyPlace & { message: string }) | null {
  const match = /^(.+?):(\d+)(?=: |:in [`'])/.exec(line)
  if (!match) return null
  const rest = line.slice(match[0].length)
  const within = /^:in [`']([^']*)'/.exec(rest)
  const said = rest.slice(within?.[0].length ?? 0)
  return said.startsWith(': ') ? { file: match[1] ?? '', line: numberOf(match[2]), name: within?.[1] ?? '', message: said.slice(2) } : null
}

/** `file:line:in 'method'` to the end; the method may be missing. */
function readPlace(text: string): RubyPlace | null {
  const at = text.endsWith("'") ? text.lastIndexOf(':in ') : -1
  const within = at < 0 ? null : /^:in [`']([^']*)'$/.exec(text.slice(at))
  const position = splitPosition(within ? text.slice(0, at) : text)
  return position && position.column === null ? { file: position.file, line: position.line, name: within?.[1] ?? '' } : null
}

function readFrom(line: string): RubyPlace | null {
  const place = /^\s*(?:\d+: )?from (\S.*)$/.exec(line)?.[1]
  return place === undefined ? null : readPlace(place)
}

const SCRIPT = /\.(?:rb|erb|rake|ru|haml|slim)$/

/** A line that is nothing but a place. */
function readPlain(line: string): RubyPlace | null {
  const place = readPlace(line.trimStart())
  return place && SCRIPT.test(place.file) ? place : null
}

/** Whether a line says that a script failed within a method. */
function saysWithin(line: string): boolean {
  const at = line.indexOf(':in ')
  if (at < 0 || !"`'".includes(line[at + 4] ?? '-') || !line.includes("'", at + 5)) return false
  const position = splitPosition(line.slice(0, at))
  return position !== null && SCRIPT.test(position.file)
}

/**
 * Backtraces of Ruby: innermost first (or last, under "most recent call last"), causes as blocks of their own below, each with its head.
 */
export const rubyReader: TraceReader = {
  language: 'ruby',
  recognises: (line) => (line.includes('from ') && readFrom(line) !== null) || saysWithin(line),
  read: (lines) => {
    const blocks: TraceException[] = []
    const isReversed = lines.some((line) => /most recent call last/.test(line))
    let current: TraceException | null = null
    let text: string[] = []
    const above: Frame[] = []
    let isMessageRead = true
    const close = () => {
      if (current && !isMessageRead) Object.assign(current, readMessage(current.message, text))
      isMessageRead = true
      text = []
    }
    for (const line of lines) {
      const from = readFrom(line)
      const head = from ? null : readHead(line)
      const plain = from || head ? null : readPlain(line)
      if (from || plain) {
        if (current && !isReversed) {
          if (current.frames.length === 1) close()
          current.frames.push(readFrame(from ?? plain))
        } else above.push(readFrame(from ?? plain))
      } else if (head && (SCRIPT.test(head.file) || /^-e$|^\(eval|^<internal:/.test(head.file))) {
        close()
        current = anException({ message: head.message, frames: [readFrame(head)] })
        isMessageRead = false
        blocks.push(current)
      } else text.push(line)
    }
    close()
    if (!current && above.length > 0) return anException({ ...readMessage(text[0] ?? '', text.slice(1)), frames: above })
    if (isReversed && blocks[0]) blocks[0].frames.push(...above.reverse())
    for (const [at, block] of blocks.entries()) block.cause = blocks[at + 1] ?? null
    const thread = /^#<Thread:(\S+)/.exec(lines.find((line) => line.trim() !== '') ?? '')?.[1]
    return blocks[0] ? { ...blocks[0], ...(thread && { thread }) } : null
  },
}

/** A message ends in its type in brackets; the source line with marks below it, where it is printed, belongs to the innermost frame. */
function readMessage(first: string, more: readonly string[]): { type: string; message: string } & Partial<TraceException> {
  const typed = /^([\s\S]*?) ?\(([A-Z][\w:]*)\)$/.exec(first.trim())
  const typeBelow = typed ? null : more.map((line) => /\(([A-Z][\w:]*)\)$/.exec(line.trim())?.[1]).find(Boolean)
  return { type: typed?.[2] ?? typeBelow ?? '', message: typed?.[1] ?? first.trim() }
}

/** The source line that newer versions show below a message, with marks under the part that failed. */
export function shownSource(text: string): string | null {
  const lines = text.split('\n')
  const marks = lines.findIndex((line) => /^\s*\^+\s*$/.test(line))
  return marks > 0 ? (lines[marks - 1] ?? '').trim() : null
}

function readFrame(place: RubyPlace | null): Frame {
  const { file, line, name } = place ?? { file: '', line: null, name: '' }
  return aFrame({ function: name || null, file, line, isApp: isAppFile(file) })
}

function isAppFile(file: string): boolean {
  return !(
    /\/gems\/|\/ruby\/\d[\d.]*\/|\/rubygems\/|\/vendor\/bundle\//.test(file) ||
    file.startsWith('<internal:') ||
    file.startsWith('(eval') ||
    file === '-e'
  )
}
