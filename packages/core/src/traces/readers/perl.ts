import type { TraceReader } from '../trace.js'
import { aFrame, anException, numberOf, withoutArguments } from './frame.js'

interface PerlPlace {
  said: string
  file: string
  line: number | null
}

/** `… at file line n.`, with the handle that was read last, if any; looked for from the end. `word` stands before the file. */
function readPlace(text: string, word: string): PerlPlace | null {
  const handle = text.lastIndexOf(', <')
  const isHandle = handle >= 0 && /^, <[^>]*> (?:line|chunk) \d+\.?$/.test(text.slice(handle))
  const plain = (isHandle ? text.slice(0, handle) : text).replace(/\.$/, '')
  const at = plain.lastIndexOf(' line ')
  if (at < 0 || !/^\d+$/.test(plain.slice(at + 6))) return null
  const from = plain.lastIndexOf(word, at)
  const file = plain.slice(from + word.length, at)
  return from < 0 || file === '' || file.includes('\n') ? null : { said: plain.slice(0, from), file, line: numberOf(plain.slice(at + 6)) }
}

/** What died, and where. */
function readDied(text: string): PerlPlace | null {
  const place = readPlace(text, ' at ')
  return place && /^[/.A-Za-z(]/.test(place.file) ? place : null
}

/** A caller: `	function(arguments) called at file line n`. */
function readCalled(line: string): PerlPlace | null {
  const place = /^\s/.test(line) ? readPlace(line, ' called at ') : null
  return place && place.said.trim() !== '' ? { ...place, said: place.said.trim() } : null
}

/**
 * Messages of `die` and Carp: `message at file line n.`, with callers as `function(arguments) called at file line n`; the place of each
 * call lies in the function of the line below.
 */
export const perlReader: TraceReader = {
  language: 'perl',
  recognises: (line) =>
    (line.includes(' called at ') && readCalled(line) !== null) ||
    /\S at \S+\.(?:pl|pm|t|cgi|psgi) line \d+(?:, <[^>]*> (?:line|chunk) \d+)?\.$/.test(line),
  read: (lines) => {
    const first = lines.findIndex((line) => line.includes(' line ') && readDied(line) !== null && !/^ at /.test(line))
    if (first < 0) return null
    const died = readDied(
      lines
        .slice(0, first + 1)
        .join('\n')
        .trim(),
    )
    if (!died) return null
    const { said: message, file, line } = died
    let calls: { function: string; file: string; line: number | null }[] = []
    for (const text of lines.slice(first + 1)) {
      const call = readCalled(text)
      // A second block is the same trace told once more, by whoever passed it on; the first line may say where the handler stands.
      if (!call && calls.length > 0) break
      if (call) calls.push({ function: withoutArguments(call.said), file: call.file, line: call.line })
    }
    // A handler of `die` is called at the very place of the error.
    const handler = calls.findIndex((call) => call.file === file && call.line === line && /__ANON__/.test(call.function))
    calls = calls.slice(handler + 1)
    const frames = [
      aFrame({
        // Without callers nothing says in which function it died.
        function: calls[0]?.function ?? null,
        file,
        line,
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
