import type { Frame, TraceException, TraceReader } from '../trace.js'
import { aFrame, anException, numberOf, openOfLast } from './frame.js'

const AT = /^\s+at (\S.*)$/
const PLACE = /^ in (\S.*):(?:line )?(\d+)$/
const PARAMETER = '(?:ref |out |in )?[A-Z][\\w.`&*<>[\\],+]* \\w+'
const MARK = new RegExp(
  `^\\s+at .*\\)(?: \\[0x[0-9a-f]+\\])? in \\S.*:(?:line )?\\d+\\s*$|^\\s+at [\\w.\`<>+|[\\],]+ ` +
    `?\\((?:${PARAMETER}(?:, ${PARAMETER})*)?\\)\\s*$`,
)
const END_OF_INNER = /^\s*--- End of inner (?:exception stack trace|ExceptionDetail)/
const FOREIGN = new RegExp(
  `^(?:System|Microsoft|Mono|Newtonsoft|Npgsql|MySql|Dapper|NUnit|Xunit|Serilog|Autofac|AutoMapper|MediatR|Grpc|` +
    String.raw`Azure|Amazon|Interop|Internal)\.`,
)

/**
 * Stack traces of .NET and Mono: `Outer ---> Inner`, the inner one's frames first, each end marked; a second
 * copy of the same trace is passed over.
 */
export const csharpReader: TraceReader = {
  language: 'csharp',
  recognises: (line) => MARK.test(line),
  read: (lines) => {
    const first = lines.findIndex((line) => readFrame(line) !== null || END_OF_INNER.test(line))
    if (first < 0) return null
    const head = lines
      .slice(0, first)
      .join('\n')
      .replace(/^\s*(?:\[ERROR\] FATAL )?UNHANDLED EXCEPTION[.:]?\s*/i, '')
      .replace(/^\s*Unhandled exception\.\s*/i, '')
      .trim()
    const chain: TraceException[] = head.split(/\s*---> (?:\(Inner Exception #\d+\) )?/).map((text) => readHead(text))
    // Inner frames are printed first: the last of the chain is read first.
    let at = chain.length - 1
    for (const line of lines.slice(first)) {
      const frame = readFrame(line)
      if (frame) chain[at]?.frames.push(frame)
      else if (END_OF_INNER.test(line)) at = Math.max(0, at - 1)
      else if (/^\[ERROR\]|^Unhandled/i.test(line)) break
    }
    for (const [index, exception] of chain.entries()) exception.cause = chain[index + 1] ?? null
    return chain[0] ?? null
  },
}

function readHead(text: string): TraceException {
  const match = /^([\w.`+]+)(?: \(0x[0-9A-F]+\))?: ?([\s\S]*)$/.exec(text.trim())
  return anException({
    type: match?.[1] ?? (/^[\w.`+]+$/.test(text.trim()) ? text.trim() : ''),
    message: (match ? (match[2] ?? '') : text).trim(),
  })
}

/**
 * `at Name (parameters) [0x00] in file:line n`; the brackets of the parameters are matched from their end,
 * since types hold brackets, too.
 */
function readFrame(line: string): Frame | null {
  const text = AT.exec(line)?.[1]?.trimEnd()
  if (text === undefined) return null
  // Folders may hold the word, parameters do only after their bracket.
  const from = text.search(/(?<=[)\]]) in \S/)
  const place = from < 0 ? null : PLACE.exec(text.slice(from))
  const call = (place ? text.slice(0, from) : text).replace(/ \[0x[0-9a-f]+\]$/, '')
  const open = call.endsWith(')') ? openOfLast(call) : -1
  const name = call.slice(0, Math.max(0, open)).trimEnd()
  if (name === '' || name.includes('(')) return /^\(wrapper /.test(name) ? aFrame({ function: name }) : null
  const file = place?.[1]
  const isPlace = file !== undefined && !/^<[0-9a-f]+>$/.test(file)
  return aFrame({
    function: comparable(name),
    file: isPlace ? file : null,
    line: isPlace ? numberOf(place?.[2]) : null,
    isApp: !FOREIGN.test(name),
    isAsync: /MoveNext$/.test(name),
  })
}

/** What the compiler made of a method is called by the method: its state machine, lambdas, and functions within it. */
function comparable(name: string): string {
  return name
    .replace(/\.?\+?<(\w+)>d__\d+(?:`\d+)?\.MoveNext$/, '.$1')
    .replace(/\.?\+?<>c(?:__DisplayClass[\d_]+)?(?:`\d+)?\.<(\w+)>[bg]__[\w|]+$/, '.$1')
    .replace(/\.<(\w+)>[bg]__[\w|]+$/, '.$1')
    .replace(/\+/g, '.')
}
