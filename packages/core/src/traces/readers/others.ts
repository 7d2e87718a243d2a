import type { TraceReader } from '../trace.js'
import { aFrame, anException, numberOf, splitHead, splitPosition, withoutArguments, type Position } from './frame.js'

/** `#0 name (file.dart:line:column)`. */
function readDart(line: string): { name: string; file: string; line: number | null; column: number | null } | null {
  if (!line.endsWith(')') || !line.startsWith('#')) return null
  const open = line.lastIndexOf(' (')
  const place = line.slice(open + 2, -1)
  const position = splitPosition(place) ?? { file: place, line: null, column: null }
  const name = /^#\d+\s+(\S.*)$/.exec(line.slice(0, Math.max(0, open)))?.[1]
  return name !== undefined && position.file.endsWith('.dart') ? { name, ...position } : null
}

/** Stack traces of Dart: `#0 Class.method (package:app/file.dart:12:5)`, gaps between asynchronous parts named. */
export const dartReader: TraceReader = {
  language: 'dart',
  recognises: (line) => readDart(line) !== null,
  read: (lines) => {
    const frames = lines.flatMap((line, at) => {
      const found = readDart(line)
      if (!found) return []
      const { name, file } = found
      return aFrame({
        function: name.replace(/\.?<anonymous closure>|\.?<fn>/g, '') || null,
        file,
        line: found.line,
        column: found.column,
        isApp: !/^dart:|^package:(?:flutter|flutter_test|test|test_api|async|stack_trace|http|dio)\//.test(file),
        isAsync: /^<asynchronous suspension>$/.test(lines[at + 1] ?? ''),
      })
    })
    const first = lines.findIndex((line) => readDart(line) !== null)
    return anException({
      ...splitHead(
        lines
          .slice(0, first)
          .join('\n')
          .replace(/^Unhandled exception:\n/, ''),
      ),
      frames,
    })
  },
}

const ELIXIR = /^\s+(?:\(([\w-]+)(?: [\w.+-]+)?\) )?([\w/.-]+\.(?:ex|exs|erl|eex|heex)):(\d+): (.+)$/
const ERLANG_APPS =
  /^(?:elixir|stdlib|kernel|erts|logger|ex_unit|mix|iex|phoenix\w*|plug\w*|ecto\w*|cowboy|ranch|db_connection|bandit|telemetry)$/
/** Exceptions of Elixir: `** (Type) message`, below it `(application version) file:line: Module.function/arity`. */
export const elixirReader: TraceReader = {
  language: 'elixir',
  recognises: (line) => /^\*\* \([\w.]+\) /.test(line) || ELIXIR.test(line),
  read: (lines) => {
    const head = lines.findIndex((line) => /\*\* \(([\w.]+)\)/.test(line))
    const frames = lines.flatMap((line) => {
      const match = ELIXIR.exec(line)
      if (!match) return []
      const name = withoutArguments((match[4] ?? '').replace(/^anonymous fn\/\d+ in /, '').replace(/\/\d+$/, ''))
      return aFrame({
        function: name,
        file: match[2] ?? '',
        line: numberOf(match[3]),
        isApp: !ERLANG_APPS.test(match[1] ?? '') && !/^deps\//.test(match[2] ?? ''),
      })
    })
    if (frames.length === 0 && head < 0) return null
    const first = lines.findIndex((line) => ELIXIR.test(line))
    const said = /\*\* \(([\w.]+)\) ?([\s\S]*)$/.exec(lines.slice(Math.max(0, head), first < 0 ? undefined : first).join('\n'))
    return anException({ type: said?.[1] ?? '', message: (said?.[2] ?? '').trim(), frames })
  },
}

const SWIFT_SAYS = /^(?:Fatal error|Precondition failed|Assertion failed)(?=: |$)/

/** `file.swift:line: Fatal error: message`, in older versions `Fatal error: message: file file.swift, line n`. */
function readFatal(line: string): { type: string; message: string; place: Position | null } | null {
  const before = /^(\S.*?\.swift:\d+): (?=Fatal|Precondition|Assertion)/.exec(line)
  const text = before ? line.slice(before[0].length) : line
  const type = SWIFT_SAYS.exec(text)?.[0]
  if (type === undefined) return null
  const said = text.slice(type.length + 2)
  const from = before ? -1 : said.lastIndexOf(': file ')
  const older = from < 0 ? null : /^(.+\.swift), line (\d+)$/.exec(said.slice(from + 7))
  const place = before ? splitPosition(before[1] ?? '') : older ? { file: older[1] ?? '', line: numberOf(older[2]), column: null } : null
  return { type, message: (older ? said.slice(0, from) : said).trim(), place }
}

/** `0 [ra] 0x… function in module at file.swift:line:column`; the place may be missing. */
function readSwift(line: string): { name: string; module: string; place: Position | null } | null {
  const text = /^\s*\d+\s+(\S.*)$/.exec(line)?.[1]
  if (text === undefined) return null
  const at = text.lastIndexOf(' at ')
  const position = at < 0 ? null : splitPosition(text.slice(at + 4))
  const place = position?.file.endsWith('.swift') ? position : null
  const call = place ? text.slice(0, at) : text
  const from = call.lastIndexOf(' in ')
  const module = call.slice(from + 4)
  if (from < 0 || module === '' || /\s/.test(module)) return null
  const name = call
    .slice(0, from)
    .replace(/^\[[^\]]*\]\s+/, '')
    .replace(/^0x[0-9a-f]+\s+/, '')
  return name === '' ? null : { name, module, place }
}
/** Fatal errors of Swift: where and why, and with a back trace `0 … function in module at file.swift:line:column`. */
export const swiftReader: TraceReader = {
  language: 'swift',
  recognises: (line) => (line.includes('.swift') || SWIFT_SAYS.test(line)) && (readFatal(line) !== null || readSwift(line)?.place != null),
  read: (lines) => {
    const head = lines.map((line) => readFatal(line.trim())).find((fatal) => fatal !== null)
    const frames = lines.flatMap((line) => {
      const found = readSwift(line)
      if (!found) return []
      const { name, module, place } = found
      return aFrame({
        function: name.replace(/^closure #\d+ (?:\([^)]*\) )?in /, '').replace(/\(.*$/, ''),
        ...place,
        isApp: place !== null && !/^(?:libswift\w*|Swift|Foundation|libdispatch|libsystem\w*)(?:\.|$)/.test(module),
      })
    })
    if (!head && frames.length === 0) return null
    const place = head?.place ? [aFrame({ ...head.place, isApp: true })] : []
    return anException({ type: head?.type ?? '', message: head?.message ?? '', frames: frames.length > 0 ? frames : place })
  },
}
