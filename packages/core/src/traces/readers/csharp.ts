import type { Frame, TraceException, TraceReader } from '../trace.js'
import { aFrame, anException, numberOf } from './frame.js'

const FRAME = /^\s+at ([^\s(][^(]*?) ?(\([^)]*(?:\([^)]*\)[^)]*)*\))(?: \[0x[0-9a-f]+\])?(?: in (.+?):(?:line )?(\d+))?\s*$/
const MARK =
  /^\s+at .*\)(?: \[0x[0-9a-f]+\])? in .+?:(?:line )?\d+\s*$|^\s+at [\w.`<>+|[\],]+ ?\((?:\)|(?:(?:ref |out |in )?[A-Z][\w.`&*<>[\],+]* \w+(?:, )?)+\)\s*$)/
const END_OF_INNER = /^\s*--- End of inner (?:exception stack trace|ExceptionDetail)/
const FOREIGN =
  /^(?:System|Microsoft|Mono|Newtonsoft|Npgsql|MySql|Dapper|NUnit|Xunit|Serilog|Autofac|AutoMapper|MediatR|Grpc|Azure|Amazon|Interop|Internal)\./

/** Stack traces of .NET and Mono: `Outer ---> Inner`, the inner one's frames first, each end marked; a second copy of the same trace is passed over. */
export const csharpReader: TraceReader = {
  language: 'csharp',
  recognises: (line) => MARK.test(line),
  read: (lines) => {
    const first = lines.findIndex((line) => FRAME.test(line) || END_OF_INNER.test(line))
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
      const frame = FRAME.exec(line)
      if (frame) chain[at]?.frames.push(readFrame(frame))
      else if (END_OF_INNER.test(line)) at = Math.max(0, at - 1)
      else if (/^\[ERROR\]|^Unhandled/i.test(line)) break
    }
    for (const [index, exception] of chain.entries()) exception.cause = chain[index + 1] ?? null
    return chain[0] ?? null
  },
}

function readHead(text: string): TraceException {
  const match = /^([\w.`+]+)(?: \(0x[0-9A-F]+\))?: ?([\s\S]*)$/.exec(text.trim())
  return anException({ type: match?.[1] ?? (/^[\w.`+]+$/.test(text.trim()) ? text.trim() : ''), message: (match ? (match[2] ?? '') : text).trim() })
}

function readFrame([, name = '', , file, line]: RegExpExecArray): Frame {
  const isPlace = file !== undefined && !/^<[0-9a-f]+>$/.test(file)
  return aFrame({
    function: comparable(name.trim()),
    file: isPlace ? file : null,
    line: isPlace ? numberOf(line) : null,
    isApp: !FOREIGN.test(name) && !/^\(wrapper/.test(name),
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
