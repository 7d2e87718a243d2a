import type { TraceReader } from '../trace.js'
import { aFrame, anException, numberOf, splitHead } from './frame.js'

const DART = /^#(\d+)\s+(.+?) \((.+?\.dart)(?::(\d+))?(?::(\d+))?\)$/
/** Stack traces of Dart: `#0 Class.method (package:app/file.dart:12:5)`, gaps between asynchronous parts named. */
export const dartReader: TraceReader = {
  language: 'dart',
  recognises: (line) => DART.test(line),
  read: (lines) => {
    const frames = lines.flatMap((line, at) => {
      const match = DART.exec(line)
      if (!match) return []
      const file = match[3] ?? ''
      return aFrame({
        function: (match[2] ?? '').replace(/\.?<anonymous closure>|\.?<fn>/g, '') || null,
        file,
        line: numberOf(match[4]),
        column: numberOf(match[5]),
        isApp: !/^dart:|^package:(?:flutter|flutter_test|test|test_api|async|stack_trace|http|dio)\//.test(file),
        isAsync: /^<asynchronous suspension>$/.test(lines[at + 1] ?? ''),
      })
    })
    const first = lines.findIndex((line) => DART.test(line))
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

const ELIXIR = /^\s+(?:\(([\w-]+)(?: [\d.]+[\w.-]*)?\) )?([\w/.-]+\.(?:ex|exs|erl|eex|heex)):(\d+): (.+)$/
const ERLANG_APPS = /^(?:elixir|stdlib|kernel|erts|logger|ex_unit|mix|iex|phoenix\w*|plug\w*|ecto\w*|cowboy|ranch|db_connection|bandit|telemetry)$/
/** Exceptions of Elixir: `** (Type) message`, below it `(application version) file:line: Module.function/arity`. */
export const elixirReader: TraceReader = {
  language: 'elixir',
  recognises: (line) => /^\*\* \([\w.]+\) /.test(line) || ELIXIR.test(line),
  read: (lines) => {
    const head = lines.findIndex((line) => /\*\* \(([\w.]+)\)/.test(line))
    const frames = lines.flatMap((line) => {
      const match = ELIXIR.exec(line)
      if (!match) return []
      const name = (match[4] ?? '')
        .replace(/^anonymous fn\/\d+ in /, '')
        .replace(/\/\d+$/, '')
        .replace(/\(.*\)$/, '')
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

const SWIFT_FATAL =
  /^(?:(.+?\.swift):(\d+): )?(Fatal error|Precondition failed|Assertion failed)(?:: ([\s\S]*?))?(?:: file (.+?\.swift), line (\d+))?$/
const SWIFT_FRAME = /^\s*(\d+)\s+(?:\[[^\]]*\]\s+)?(?:0x[0-9a-f]+\s+)?(.+?) in (\S+)(?: at (.+?\.swift):(\d+)(?::(\d+))?)?$/
/** Fatal errors of Swift: where and why, and with a back trace `0 … function in module at file.swift:line:column`. */
export const swiftReader: TraceReader = {
  language: 'swift',
  recognises: (line) => SWIFT_FATAL.test(line) || / in \S+ at .+\.swift:\d+/.test(line),
  read: (lines) => {
    const head = lines.map((line) => SWIFT_FATAL.exec(line.trim())).find((match) => match !== null)
    const frames = lines.flatMap((line) => {
      const match = SWIFT_FRAME.exec(line)
      if (!match) return []
      return aFrame({
        function: (match[2] ?? '').replace(/^closure #\d+ (?:\([^)]*\) )?in /, '').replace(/\(.*$/, ''),
        file: match[4] ?? null,
        line: numberOf(match[5]),
        column: numberOf(match[6]),
        isApp: match[4] !== undefined && !/^(?:libswift\w*|Swift|Foundation|libdispatch|libsystem\w*)(?:\.|$)/.test(match[3] ?? ''),
      })
    })
    if (!head && frames.length === 0) return null
    const file = head?.[1] ?? head?.[5]
    const place = file === undefined ? [] : [aFrame({ file, line: numberOf(head?.[2] ?? head?.[6]), isApp: true })]
    return anException({ type: head?.[3] ?? '', message: (head?.[4] ?? '').trim(), frames: frames.length > 0 ? frames : place })
  },
}
