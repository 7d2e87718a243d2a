import type { TraceReader } from '../trace.js'
import { aFrame, anException, numberOf } from './frame.js'

const CALLED = /^\s+(\S.*?) called at (.+?) line (\d+)\.?$/
const DIED = /^([\s\S]*?) at ((?:\/|\.|[A-Za-z(])[^\n]*?) line (\d+)(?:, <[^>]*> (?:line|chunk) \d+)?\.?$/

/** Messages of `die` and Carp: `message at file line n.`, with callers as `function(arguments) called at file line n`; the place of each call lies in the function of the line below. */
export const perlReader: TraceReader = {
  language: 'perl',
  recognises: (line) => CALLED.test(line) || /\S at \S+\.(?:pl|pm|t|cgi|psgi) line \d+(?:, <[^>]*> (?:line|chunk) \d+)?\.$/.test(line),
  read: (lines) => {
    const first = lines.findIndex((line) => DIED.test(line) && !/^ at /.test(line))
    if (first < 0) return null
    const died = DIED.exec(
      lines
        .slice(0, first + 1)
        .join('\n')
        .trim(),
    )
    if (!died) return null
    const [, message = '', file = '', line = ''] = died
    let calls: { function: string; file: string; line: number | null }[] = []
    for (const text of lines.slice(first + 1)) {
      const call = CALLED.exec(text)
      // A second block is the same trace told once more, by whoever passed it on; the first line may say where the handler stands.
      if (!call && calls.length > 0) break
      if (call) calls.push({ function: (call[1] ?? '').replace(/\([\s\S]*\)$/, ''), file: call[2] ?? '', line: numberOf(call[3]) })
    }
    // A handler of `die` is called at the very place of the error.
    const handler = calls.findIndex((call) => call.file === file && call.line === numberOf(line) && /__ANON__/.test(call.function))
    calls = calls.slice(handler + 1)
    const frames = [
      aFrame({
        // Without callers nothing says in which function it died.
        function: calls[0]?.function ?? null,
        file,
        line: numberOf(line),
        isApp: isAppFile(file),
      }),
      ...calls.map((call, at) =>
        aFrame({ function: calls[at + 1]?.function ?? 'main', file: call.file, line: call.line, isApp: isAppFile(call.file) }),
      ),
    ]
    return anException({ type: 'die', message: message.trim(), frames })
  },
}

function isAppFile(file: string): boolean {
  return !/^\/usr\/(?:share|lib|local\/lib)\/|\/perl5\/|\/site_perl\/|^\(eval \d+\)/.test(file)
}
