import type { Frame, TraceReader } from '../trace.js'
import { aFrame, anException, openOfLast, splitPosition, type Position } from './frame.js'

interface NativeFrame {
  number: string
  name: string
  place: Position | null
}

/** `#n 0x… in function (arguments) at file:line`, or `from library`; the address may be missing. */
function readDebugger(line: string): NativeFrame | null {
  const match = /^#(\d+)\s+(\S.*)$/.exec(line)
  if (!match) return null
  const text = (match[2] ?? '').trimEnd().replace(/^0x[0-9a-f]+ in /, '')
  const at = text.lastIndexOf(') at ')
  const from = text.lastIndexOf(') from ')
  const place = at < 0 ? null : splitPosition(text.slice(at + 5))
  const call = place ? text.slice(0, at + 1) : from < 0 ? text : text.slice(0, from + 1)
  if (!call.endsWith(')')) return null
  // Arguments may hold a bracket in a text, so that it has no other.
  const balanced = openOfLast(call)
  const open = balanced > 0 ? balanced : call.indexOf(' (') + 1
  return open > 0 && call[open - 1] === ' ' ? { number: match[1] ?? '', name: call.slice(0, open - 1), place } : null
}

/** `    #n 0x… in function file:line:column`, or `(module+0x…)` where there are no symbols. */
function readSanitizer(line: string): NativeFrame | null {
  const match = /^\s*#(\d+) 0x[0-9a-f]+ (?:in )?(\S.*)$/.exec(line)
  if (!match) return null
  const text = (match[2] ?? '').trimEnd().replace(/ \(BuildId: [0-9a-f]+\)$/, '')
  const space = text.lastIndexOf(' ')
  const tail = text.slice(space + 1)
  const place = space < 0 ? null : splitPosition(tail)
  const isModule = /^\(\S*\+0x[0-9a-f]+\)$/.test(tail)
  return { number: match[1] ?? '', name: place || isModule ? text.slice(0, Math.max(0, space)) : text, place }
}

/**
 * Traces of C and C++: of debuggers (`#0 function (arguments) at file:line`) and of sanitizers (`#0 0x… in function file:line:column`); the
 * first block of a report is where it failed.
 */
export const nativeReader: TraceReader = {
  language: 'native',
  recognises: (line) => line.includes('#') && (readDebugger(line) !== null || /^\s*#\d+ 0x[0-9a-f]+ (?:in )?\S/.test(line)),
  read: (lines) => {
    const frames: Frame[] = []
    let first = -1
    for (const [at, line] of lines.entries()) {
      // What says where it is called from is the debugger's, though with an address it would do as the sanitizer's.
      const debuggers = line.startsWith('#') ? readDebugger(line) : null
      const frame = debuggers?.place || / from \S+$/.test(line) ? debuggers : (readSanitizer(line) ?? debuggers)
      if (!frame) continue
      // A frame numbered nought again begins another block: who freed it, another thread.
      if (frame.number === '0' && frames.length > 0) break
      if (first < 0) first = at
      frames.push(toFrame(frame))
    }
    if (frames.length === 0) return null
    return anException({ ...readHead(lines.slice(0, first)), frames })
  },
}

function readHead(lines: readonly string[]): { type: string; message: string } {
  const text = lines.join('\n')
  const sanitizer = /ERROR: (\w+Sanitizer): ([\w-]+)(.*)/.exec(text)
  if (sanitizer) return { type: `${sanitizer[1]}: ${sanitizer[2]}`, message: `${sanitizer[2]}${sanitizer[3] ?? ''}` }
  const thrown = /terminate called after throwing an instance of '([^']+)'(?:\s+what\(\):\s+(.*))?/.exec(text)
  if (thrown) return { type: thrown[1] ?? '', message: (thrown[2] ?? '').trim() }
  const undefinedBehaviour = /runtime error: (.*)/.exec(text)
  if (undefinedBehaviour) return { type: 'runtime error', message: undefinedBehaviour[1] ?? '' }
  const signal = /(?:Program (?:received|terminated with) signal |Signal: )(SIG\w+)(?:, (.*))?/.exec(text)
  return { type: signal?.[1] ?? '', message: (signal?.[2] ?? /Assertion .* failed\./.exec(text)?.[0] ?? '').replace(/\.$/, '') }
}

function toFrame({ name, place }: NativeFrame): Frame {
  return aFrame({
    function: comparable(name),
    ...place,
    isApp:
      place !== null &&
      isAppFile(place.file) &&
      !/^(?:std|__gnu_cxx|__cxx\w*|__interceptor_|__asan|operator (?:new|delete))(?:::|_|$)/.test(name),
  })
}

/** Names without arguments and template arguments: they differ by caller. */
function comparable(name: string): string {
  let depth = 0
  let plain = ''
  const text = name.replace(/\boperator\s*(?:<<|>>|<=>|<=|>=|<|>|->)/g, (operator) =>
    operator.replace(/[<>]/g, (char) => (char === '<' ? '\u0001' : '\u0002')),
  )
  for (const char of text) {
    if (char === '<' || char === '(') depth++
    else if (char === '>' || char === ')') depth = Math.max(0, depth - 1)
    else if (depth === 0) plain += char
  }
  return plain
    .replaceAll('\u0001', '<')
    .replaceAll('\u0002', '>')
    .replace(/ const$/, '')
    .trim()
}

const OF_THE_SYSTEM = new RegExp(
  String.raw`^\/usr\/(?:include|lib|src)\/|^\/build\/|^(?:\.\/|\.\.\/)*(?:sysdeps|nptl|stdlib|csu|libio|malloc|string|` +
    String.raw`signal|elf|libsanitizer)\/|\/libstdc\+\+|compiler-rt|\/c\+\+\/\d|\.so(?:\.\d+)*$`,
)

function isAppFile(file: string): boolean {
  return !OF_THE_SYSTEM.test(file)
}
