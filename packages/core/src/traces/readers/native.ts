import type { Frame, TraceReader } from '../trace.js'
import { aFrame, anException, numberOf } from './frame.js'

const DEBUGGER = /^#(\d+)\s+(?:0x[0-9a-f]+ in )?(.+?)(?: (?=\())(\(.*\))(?: at (.+?):(\d+)| from (\S+))?\s*$/
const SANITIZER = /^\s*#(\d+) 0x[0-9a-f]+ (?:in )?(.+?)(?: (\S+?):(\d+)(?::(\d+))?| \((\S+?)\+0x[0-9a-f]+\)(?: \(BuildId: [0-9a-f]+\))?)?\s*$/

/** Traces of C and C++: of debuggers (`#0 function (arguments) at file:line`) and of sanitizers (`#0 0x… in function file:line:column`); the first block of a report is where it failed. */
export const nativeReader: TraceReader = {
  language: 'native',
  recognises: (line) => /^#\d+\s+(?:0x[0-9a-f]+ in )?\S.* \(.*\)(?: (?:at|from) \S+)?\s*$/.test(line) || /^\s*#\d+ 0x[0-9a-f]+ (?:in )?\S/.test(line),
  read: (lines) => {
    const frames: Frame[] = []
    let first = -1
    for (const [at, line] of lines.entries()) {
      // What says `at` or `from` is the debugger's, though with an address it would do as the sanitizer's.
      const debuggers = DEBUGGER.exec(line)
      const sanitizer = debuggers && (debuggers[4] ?? debuggers[6]) !== undefined ? null : SANITIZER.exec(line)
      const match = sanitizer ?? debuggers
      if (!match) continue
      // A frame numbered nought again begins another block: who freed it, another thread.
      if (match[1] === '0' && frames.length > 0) break
      if (first < 0) first = at
      frames.push(sanitizer ? readFrame(sanitizer[2] ?? '', sanitizer[3], sanitizer[4], sanitizer[5]) : readFrame(match[2] ?? '', match[4], match[5]))
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

function readFrame(name: string, file: string | undefined, line: string | undefined, column?: string | undefined): Frame {
  return aFrame({
    function: comparable(name),
    file: file ?? null,
    line: numberOf(line),
    column: numberOf(column),
    isApp: file !== undefined && isAppFile(file) && !/^(?:std|__gnu_cxx|__cxx\w*|__interceptor_|__asan|operator (?:new|delete))(?:::|_|$)/.test(name),
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

function isAppFile(file: string): boolean {
  return !/^\/usr\/(?:include|lib|src)\/|^\/build\/|^(?:\.\/|\.\.\/)*(?:sysdeps|nptl|stdlib|csu|libio|malloc|string|signal|elf|libsanitizer)\/|\/libstdc\+\+|compiler-rt|\/c\+\+\/\d|\.so(?:\.\d+)*$/.test(
    file,
  )
}
