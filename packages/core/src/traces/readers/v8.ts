import type { Frame, TraceException, TraceReader } from '../trace.js'
import { aFrame, anException, openOfLast, splitPosition, trimEndOf } from './frame.js'

const CAUSE_DEPTH_MAX = 20
const MEMBERS_MAX = 50
/** What may follow a frame: the properties of the error are printed behind the last. */
const TAIL = ' \t{,'

/**
 * Stack traces of V8 (Node.js, Chromium): `Type: message`, then `    at function (file:line:column)`, `[cause]:` and `[errors]:` blocks
 * nested below.
 */
export const v8Reader: TraceReader = {
  language: 'javascript',
  recognises: isFrameLine,
  read: (lines) => readBlock(lines, 0).exception,
}

interface Block {
  exception: TraceException | null
  next: number
}

function readBlock(lines: readonly string[], depth: number): Block {
  let at = 0
  while (at < lines.length && !isFrameLine(lines[at] ?? '') && !isNested(lines[at] ?? '')) at++
  const { type, message } = readHead(lines.slice(0, at))
  const exception = anException({ type, message })
  for (; at < lines.length; at++) {
    const line = lines[at] ?? ''
    if (isFrameLine(line)) exception.frames.push(readFrame(line.trim().slice(3)))
    else if (depth < CAUSE_DEPTH_MAX && /^\s*\[errors\]: \[/.test(line)) {
      const indent = line.length - line.trimStart().length
      const end = lines.findIndex((other, index) => index > at && other.startsWith(' '.repeat(indent)) && /^\],?$/.test(other.trim()))
      exception.members = readMembers(lines.slice(at + 1, end < 0 ? undefined : end), depth + 1)
      if (end < 0) break
      at = end
    } else if (depth < CAUSE_DEPTH_MAX && isCause(line, lines[at + 1])) {
      const nested = readBlock([line.replace(/^\s*\[?cause\]?:\s*/, ''), ...lines.slice(at + 1)], depth + 1)
      exception.cause = nested.exception
      break
    } else if (exception.frames.length > 0 && !/^\s*(?:\.\.\.|[}\]{[])/.test(line) && line.trim() !== '') break
  }
  return { exception: exception.frames.length === 0 && !type ? null : exception, next: at }
}

/** The errors that one error gathers: each begins with a line that is no frame, at the outermost depth. */
function readMembers(lines: readonly string[], depth: number): TraceException[] {
  const indent = Math.min(...lines.filter((line) => line.trim() !== '').map((line) => line.length - line.trimStart().length))
  const starts = lines.flatMap((line, at) =>
    line.length - line.trimStart().length === indent && !isFrameLine(line) && !/^[}\]]/.test(line.trim()) ? at : [],
  )
  return starts.slice(0, MEMBERS_MAX).flatMap((start, at) => readBlock(lines.slice(start, starts[at + 1]), depth).exception ?? [])
}

/** Older versions print the cause like any other property. */
function isCause(line: string, next: string | undefined): boolean {
  return /^\s*\[cause\]:/.test(line) || (/^\s+cause: [A-Z]\w*(?:Error|Exception)\b/.test(line) && isFrameLine(next ?? ''))
}

const isNested = (line: string): boolean => /^\s*\[(?:cause\]:|errors\]: \[)/.test(line)

function isFrameLine(line: string): boolean {
  const trimmed = line.trimStart()
  if (!trimmed.startsWith('at ')) return false
  const text = trimEndOf(trimmed, TAIL)
  return (
    splitPosition(text.endsWith(')') ? text.slice(0, -1) : text) !== null || /\((?:<anonymous>|native|index \d+)\)$|<anonymous>$/.test(text)
  )
}

function readHead(lines: readonly string[]): { type: string; message: string } {
  // An uncaught error is printed below the source line and a caret; the head proper follows the last blank line.
  const head = lines.map((line) => line.trim())
  const caret = head.findLastIndex((line) => /^\^+$/.test(line))
  const text = head
    .slice(caret + 1)
    .join('\n')
    .trim()
    .replace(/^(?:Uncaught(?: \(in promise\))?|Unhandled \w+:?)\s+/, '')
  const match = /^([\w$.]*(?:Error|Exception|Warning|[A-Z][\w$]*))(?:\s\[[A-Z_0-9]+\])?(?::\s?([\s\S]*))?$/.exec(text)
  return { type: match?.[1] ?? '', message: match?.[2] ?? (match ? '' : text) }
}

function readFrame(text: string): Frame {
  let rest = trimEndOf(text, TAIL)
  const isAsync = rest.startsWith('async ')
  if (isAsync) rest = rest.slice(6)
  const open = rest.endsWith(')') ? openOfLast(rest) : -1
  const name = open > 0 ? rest.slice(0, open).trim() : null
  const place = open >= 0 ? rest.slice(open + 1, -1) : rest
  const position = splitPosition(place)
  const file = withoutScheme(position?.file ?? place)
  return aFrame({
    function: name ? nameOf(name) : null,
    file,
    line: position?.line ?? null,
    column: position?.column ?? null,
    isApp: position !== null && isAppScript(file),
    isAsync,
  })
}

function nameOf(name: string): string {
  const as = name.endsWith(']') ? name.lastIndexOf(' [as ') : -1
  return (as < 0 ? name : name.slice(0, as)).replace(/^new /, '').replace(/^Object\.(?=\w)/, '')
}

/** The script without `file://`, and without what follows its path: a question mark changes with each release. */
export function withoutScheme(file: string): string {
  return file.replace(/^file:\/\//, '').replace(/[?#].*$/, '')
}

/** Whether a script is the program's own: not of the runtime, a package, an extension of the browser, nor made at run time. */
export function isAppScript(file: string): boolean {
  return !(
    file === '' ||
    file.startsWith('node:') ||
    file.startsWith('internal/') ||
    /^(?:events|fs|net|http|https|stream|util|timers|_\w+|vm|assert|zlib|tls|dns|url|module|child_process)\.js$/.test(file) ||
    /(?:^|\/)node_modules\//.test(file) ||
    file.includes('<anonymous>') ||
    file.startsWith('eval at') ||
    file === 'native' ||
    file === '[native code]' ||
    file.startsWith('webpack/') ||
    /^(?:chrome|moz|safari(?:-web)?)-extension:/.test(file)
  )
}
