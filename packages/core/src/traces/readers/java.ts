import type { Frame, TraceException, TraceReader } from '../trace.js'
import { aFrame, anException, numberOf } from './frame.js'

const SOURCE = /^([\w$-]+\.(?:java|kt|kts|scala|groovy|clj|jsp)|Native Method|Unknown Source|<generated>|SourceFile)(?::(\d+))?$/
const NEXT = /^(\s*)(Caused by|Suppressed|Wrapped by): (.*)$/
const HIDDEN = /^\s*\.\.\. (\d+) (?:more|common frames omitted)/
const FOREIGN = new RegExp(
  String.raw`^(?:java|javax|jdk|sun|com\.sun|jakarta|kotlin|kotlinx|scala|groovy|clojure|android|androidx|dalvik|` +
    String.raw`org\.(?:springframework|apache|junit|hibernate|eclipse|jboss|slf4j|gradle|testng|mockito|codehaus|postgresql|` +
    String.raw`jetbrains)|com\.(?:google|fasterxml|zaxxer|mysql|intellij|android)|io\.(?:netty|reactivex|undertow|micrometer|` +
    String.raw`opentelemetry|quarkus|ktor|vertx)|reactor|okhttp3|okio|feign|ch\.qos|net\.bytebuddy)\.`,
)

/**
 * Stack traces of the Java machine (Java, Kotlin and others): innermost first, `Caused by:` at the depth of what it caused, `Suppressed:`
 * one step deeper, frames in common counted.
 */
export const javaReader: TraceReader = {
  language: 'java',
  recognises: (line) => partsOf(line) !== null,
  read: (lines) => {
    const first = lines.findIndex((line) => partsOf(line) !== null || HIDDEN.test(line))
    if (first < 0) return null
    const head = lines
      .slice(0, first)
      .findLastIndex((line) => /^(?:Exception in thread "[^"]*" )?[a-z][\w$]*(?:\.[\w$]+)+(?::|$)/.test(line.trim()))
    const start = Math.max(0, head)
    const root = readHead(lines.slice(start, first).join('\n'))
    // By depth: the exception whose frames are being read, and how deep its head stands.
    const open: { exception: TraceException; indent: number }[] = [{ exception: root, indent: 0 }]
    for (let at = first; at < lines.length; at++) {
      const line = lines[at] ?? ''
      const frame = partsOf(line)
      const hidden = HIDDEN.exec(line)
      const next = NEXT.exec(line)
      const current = open.at(-1)?.exception
      if (frame) current?.frames.push(readFrame(frame))
      else if (hidden && current) current.hiddenFrames = (current.hiddenFrames ?? 0) + (numberOf(hidden[1]) ?? 0)
      else if (next) {
        const indent = (next[1] ?? '').length
        let end = at + 1
        while (end < lines.length && !isMark(lines[end] ?? '')) end++
        const exception = readHead([next[3] ?? '', ...lines.slice(at + 1, end)].join('\n'))
        // What was told of a message is not looked at again.
        at = end - 1
        const isSuppressed = next[2] === 'Suppressed'
        while (open.length > 1 && (isSuppressed ? (open.at(-1)?.indent ?? 0) >= indent : (open.at(-1)?.indent ?? 0) > indent)) open.pop()
        const owner = open.at(-1)?.exception
        if (owner && isSuppressed) {
          owner.suppressed ??= []
          owner.suppressed.push(exception)
        } else if (owner) owner.cause = exception
        open.push({ exception, indent })
      } else if (line.trim() !== '' && open.some((entry) => entry.exception.frames.length > 0) && /^\S/.test(line)) break
    }
    return root
  },
}

function isMark(line: string): boolean {
  return partsOf(line) !== null || HIDDEN.test(line) || NEXT.test(line)
}

function readHead(text: string): TraceException {
  const thread = /^Exception in thread "([^"]*)" /.exec(text)
  const rest = (thread ? text.slice(thread[0].length) : text).trim()
  const match = /^([\w$.]+)(?::\s?([\s\S]*))?$/.exec(rest)
  return anException({
    type: match?.[1] ?? '',
    message: (match ? (match[2] ?? '') : rest).trim(),
    ...(thread && { thread: thread[1] ?? '' }),
  })
}

interface FrameParts {
  owner: string
  method: string
  file: string
  line: string | undefined
}

/** `at module/owner.method(File.java:12)`, whatever may follow. */
function partsOf(line: string): FrameParts | null {
  const text = /^\s*at (\S.*)$/.exec(line)?.[1]
  const open = text?.indexOf('(') ?? -1
  if (text === undefined || open < 0) return null
  const source = SOURCE.exec(text.slice(open + 1, text.indexOf(')', open)))
  const called = text.slice(0, open)
  const name = called.slice(called.lastIndexOf('/') + 1)
  const dot = name.lastIndexOf('.')
  return source && dot > 0 && dot < name.length - 1 && /^[\w$.@/<>-]+$/.test(called)
    ? { owner: name.slice(0, dot), method: name.slice(dot + 1), file: source[1] ?? '', line: source[2] }
    : null
}

function readFrame({ owner, method, file, line }: FrameParts): Frame {
  const isSource = /\.\w+$/.test(file)
  const folder = owner.includes('.') ? `${owner.slice(0, owner.lastIndexOf('.')).replace(/\$.*$/, '').split('.').join('/')}/` : ''
  return aFrame({
    function: `${owner}.${method}`,
    file: isSource ? `${folder}${file}` : null,
    line: numberOf(line),
    isApp: !FOREIGN.test(owner) && isSource && !/\$\$(?:EnhancerBy|FastClassBy|SpringCGLIB|Lambda)/.test(owner),
  })
}
