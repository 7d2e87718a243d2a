import type { Frame, TraceException, TraceHints, TraceReader } from './trace.js'

const CAUSE_DEPTH_MAX = 20
const LINE_LENGTH_MAX = 2000
const POSITION = /^(.*?):(\d+)(?::(\d+))?$/

/** Stack traces of V8 (Node.js, Chromium): `Type: message`, then `    at function (file:line:column)`, `[cause]:` blocks nested below. */
export const v8Reader: TraceReader = {
  language: 'javascript',
  recognises: (lines) => lines.some((line) => isFrameLine(line)),
  read: (lines, hints) => readBlock(lines, 0, hints, 0).exception,
}

interface Block {
  exception: TraceException | null
  next: number
}

function readBlock(lines: readonly string[], start: number, hints: TraceHints, depth: number): Block {
  const header: string[] = []
  let at = start
  while (at < lines.length && !isFrameLine(lines[at] ?? '')) header.push((lines[at++] ?? '').trim())
  const { type, message } = splitHeader(header, hints)
  const frames: Frame[] = []
  let cause: TraceException | null = null
  for (; at < lines.length; at++) {
    const line = lines[at] ?? ''
    if (isFrameLine(line)) {
      frames.push(readFrame(line.trim().slice(3)))
      continue
    }
    const causeText = /^\s*\[cause\]:\s*(.*)$/.exec(line)?.[1]
    if (causeText !== undefined && depth < CAUSE_DEPTH_MAX) {
      const nested = readBlock([causeText, ...lines.slice(at + 1)], 0, {}, depth + 1)
      cause = nested.exception
      break
    }
    if (frames.length > 0 && !/^\s*(?:\.\.\.|[}\]{[])/.test(line) && line.trim() !== '') break
  }
  if (frames.length === 0 && !type) return { exception: null, next: at }
  return { exception: { type: type || 'Error', message, frames, cause }, next: at }
}

function isFrameLine(line: string): boolean {
  if (line.length > LINE_LENGTH_MAX) return false
  const trimmed = line.trimStart()
  return trimmed.startsWith('at ') && (/:\d+\)?[\s{]*$/.test(trimmed) || /\((?:<anonymous>|native|index \d+)\)$|<anonymous>$/.test(trimmed))
}

function splitHeader(header: readonly string[], hints: TraceHints): { type: string; message: string } {
  // An uncaught error is printed below the source line and a caret; the header proper follows the last blank line.
  const caret = header.findLastIndex((line) => /^\^+$/.test(line))
  const text = header
    .slice(caret + 1)
    .join('\n')
    .trim()
    .replace(/^(?:Uncaught(?: \(in promise\))?|Unhandled \w+:?)\s+/, '')
  const match = /^([\w$.]*(?:Error|Exception|Warning|[A-Z][\w$]*))(?:\s\[[A-Z_0-9]+\])?(?::\s?([\s\S]*))?$/.exec(text)
  return {
    type: hints.type || match?.[1] || '',
    message: hints.message ?? match?.[2] ?? (match ? '' : text),
  }
}

function readFrame(text: string): Frame {
  let rest = text.replace(/[\s{]+$/, '')
  const isAsync = rest.startsWith('async ')
  if (isAsync) rest = rest.slice(6)
  const open = rest.endsWith(')') ? matchingOpen(rest) : -1
  const name = open > 0 ? rest.slice(0, open).trim() : null
  const place = open >= 0 ? rest.slice(open + 1, -1) : rest
  const position = POSITION.exec(place)
  const file = normaliseFile(position?.[1] ?? place)
  return {
    function: name ? normaliseFunction(name) : null,
    file,
    line: position ? Number(position[2]) : null,
    column: position?.[3] ? Number(position[3]) : null,
    isApp: position !== null && isAppFile(file),
    isAsync,
  }
}

/** The bracket that opens the last group, so that `fn (eval at x (a.js:1:2), <anonymous>:3:4)` keeps its inner brackets. */
function matchingOpen(text: string): number {
  let depth = 0
  for (let index = text.length - 1; index >= 0; index--) {
    if (text[index] === ')') depth++
    else if (text[index] === '(' && --depth === 0) return index
  }
  return -1
}

function normaliseFunction(name: string): string {
  return name
    .replace(/^new /, '')
    .replace(/\s\[as [^\]]+\]$/, '')
    .replace(/^Object\.(?=\w)/, '')
}

function normaliseFile(file: string): string {
  return file.replace(/^file:\/\//, '').replace(/[?#].*$/, '')
}

function isAppFile(file: string): boolean {
  return !(
    file.startsWith('node:') ||
    file.startsWith('internal/') ||
    file.includes('node_modules/') ||
    file.includes('<anonymous>') ||
    file.startsWith('eval at') ||
    file === 'native' ||
    file.startsWith('webpack/')
  )
}
