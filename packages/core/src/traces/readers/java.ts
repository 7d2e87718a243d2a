import type { Frame, TraceException, TraceReader } from '../trace.js'
import { aFrame, anException, numberOf } from './frame.js'

const FRAME =
  /^\s*at (?:[\w$.@/-]*\/)?([\w$.<>-]+?)\.([\w$<>-]+)\(([\w$-]+\.(?:java|kt|kts|scala|groovy|clj|jsp)|Native Method|Unknown Source|<generated>|SourceFile)(?::(\d+))?\)/
const NEXT = /^(\s*)(Caused by|Suppressed|Wrapped by): (.*)$/
const HIDDEN = /^\s*\.\.\. (\d+) (?:more|common frames omitted)/
const FOREIGN =
  /^(?:java|javax|jdk|sun|com\.sun|jakarta|kotlin|kotlinx|scala|groovy|clojure|android|androidx|dalvik|org\.(?:springframework|apache|junit|hibernate|eclipse|jboss|slf4j|gradle|testng|mockito|codehaus|postgresql|jetbrains)|com\.(?:google|fasterxml|zaxxer|mysql|intellij|android)|io\.(?:netty|reactivex|undertow|micrometer|opentelemetry|quarkus|ktor|vertx)|reactor|okhttp3|okio|feign|ch\.qos|net\.bytebuddy)\./

/** Stack traces of the Java machine (Java, Kotlin and others): innermost first, `Caused by:` at the depth of what it caused, `Suppressed:` one step deeper, frames in common counted. */
export const javaReader: TraceReader = {
  language: 'java',
  recognises: (line) => FRAME.test(line),
  read: (lines) => {
    const first = lines.findIndex((line) => FRAME.test(line) || HIDDEN.test(line))
    if (first < 0) return null
    const head = lines.slice(0, first).findLastIndex((line) => /^(?:Exception in thread "[^"]*" )?[a-z][\w$]*(?:\.[\w$]+)+(?::|$)/.test(line.trim()))
    const start = Math.max(0, head)
    const root = readHead(lines.slice(start, first).join('\n'))
    // By depth: the exception whose frames are being read, and how deep its head stands.
    const open: { exception: TraceException; indent: number }[] = [{ exception: root, indent: 0 }]
    for (let at = first; at < lines.length; at++) {
      const line = lines[at] ?? ''
      const frame = FRAME.exec(line)
      const hidden = HIDDEN.exec(line)
      const next = NEXT.exec(line)
      const current = open.at(-1)?.exception
      if (frame) current?.frames.push(readFrame(frame))
      else if (hidden && current) current.hiddenFrames = (current.hiddenFrames ?? 0) + (numberOf(hidden[1]) ?? 0)
      else if (next) {
        const indent = (next[1] ?? '').length
        const more = lines.slice(at + 1).findIndex((other) => FRAME.test(other) || HIDDEN.test(other) || NEXT.test(other))
        const exception = readHead([next[3] ?? '', ...lines.slice(at + 1, more < 0 ? undefined : at + 1 + more)].join('\n'))
        const isSuppressed = next[2] === 'Suppressed'
        while (open.length > 1 && (isSuppressed ? (open.at(-1)?.indent ?? 0) >= indent : (open.at(-1)?.indent ?? 0) > indent)) open.pop()
        const owner = open.at(-1)?.exception
        if (owner && isSuppressed) owner.suppressed = [...(owner.suppressed ?? []), exception]
        else if (owner) owner.cause = exception
        open.push({ exception, indent })
      } else if (line.trim() !== '' && open.some((entry) => entry.exception.frames.length > 0) && /^\S/.test(line)) break
    }
    return root
  },
}

function readHead(text: string): TraceException {
  const thread = /^Exception in thread "([^"]*)" /.exec(text)
  const rest = (thread ? text.slice(thread[0].length) : text).trim()
  const match = /^([\w$.]+)(?::\s?([\s\S]*))?$/.exec(rest)
  return anException({ type: match?.[1] ?? '', message: (match ? (match[2] ?? '') : rest).trim(), ...(thread && { thread: thread[1] ?? '' }) })
}

function readFrame([, owner = '', method = '', file, line]: RegExpExecArray): Frame {
  const isSource = file !== undefined && /\.\w+$/.test(file)
  const folder = owner.includes('.') ? `${owner.slice(0, owner.lastIndexOf('.')).replace(/\$.*$/, '').replaceAll('.', '/')}/` : ''
  return aFrame({
    function: `${owner}.${method}`,
    file: isSource ? `${folder}${file}` : null,
    line: numberOf(line),
    isApp: !FOREIGN.test(owner) && isSource && !/\$\$(?:EnhancerBy|FastClassBy|SpringCGLIB|Lambda)/.test(owner),
  })
}
