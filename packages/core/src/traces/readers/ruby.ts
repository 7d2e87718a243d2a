import type { Frame, TraceException, TraceReader } from '../trace.js'
import { aFrame, anException, numberOf } from './frame.js'

/** `file:line:in 'method': message (Type)`; older versions open the quote with a back tick. */
const HEAD = /^(.+?):(\d+)(?::in [`']([^']*)')?: ([\s\S]*)$/
const FROM = /^\s*(?:\d+: )?from (.+?):(\d+)(?::in [`']([^']*)')?$/
const PLAIN = /^\s*(.+?\.(?:rb|erb|rake|ru|haml|slim)):(\d+)(?::in [`']([^']*)')?$/

/** Backtraces of Ruby: innermost first (or last, under "most recent call last"), causes as blocks of their own below, each with its head. */
export const rubyReader: TraceReader = {
  language: 'ruby',
  recognises: (line) => FROM.test(line) || /^.+\.(?:rb|erb|rake|ru):\d+:in [`'][^']*'/.test(line),
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
      const from = FROM.exec(line)
      const head = from ? null : HEAD.exec(line)
      const plain = from || head ? null : PLAIN.exec(line)
      if (from || plain) {
        if (current && !isReversed) {
          if (current.frames.length === 1) close()
          current.frames.push(readFrame(from ?? plain))
        } else above.push(readFrame(from ?? plain))
      } else if (head && /\.(?:rb|erb|rake|ru|haml|slim)$|^-e$|^\(eval|^<internal:/.test(head[1] ?? '')) {
        close()
        current = anException({ message: head[4] ?? '', frames: [readFrame(head)] })
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

function readFrame(match: RegExpExecArray | null): Frame {
  const [, file = '', line = '', name = ''] = match ?? []
  return aFrame({ function: name || null, file, line: numberOf(line), isApp: isAppFile(file) })
}

function isAppFile(file: string): boolean {
  return !(
    /\/gems\/|\/ruby\/\d[\d.]*\/|\/rubygems\/|\/vendor\/bundle\//.test(file) ||
    file.startsWith('<internal:') ||
    file.startsWith('(eval') ||
    file === '-e'
  )
}
