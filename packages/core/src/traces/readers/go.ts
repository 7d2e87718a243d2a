import type { Frame, TraceReader } from '../trace.js'
import { aFrame, anException, numberOf, openOfLast } from './frame.js'

const ROUTINE = /^goroutine (\d+)(?: [^[]*)?\[([^\]]*)\]:$/
const PLACE = /^\s+(\S.*\.(?:go|s)):(\d+)(?: \+0x[0-9a-f]+)?(?: .*)?$/
const PANICKING = /^(?:panic|runtime\.(?:gopanic|panic\w*|sigpanic|goPanic\w*|throw|fatal\w*))$/

/**
 * Panics, fatal errors and `debug.Stack` of Go: `function(arguments)`, below it `file:line`; the first goroutine is the one that failed.
 * What stands above the panic is its recovery.
 */
export const goReader: TraceReader = {
  language: 'go',
  recognises: (line) => ROUTINE.test(line),
  read: (lines) => {
    const start = lines.findIndex((line) => ROUTINE.test(line))
    const head = lines.slice(0, start).join('\n')
    const frames: Frame[] = []
    for (let at = start + 1; at < lines.length && !ROUTINE.test(lines[at] ?? ''); at++) {
      const place = PLACE.exec(lines[at + 1] ?? '')
      const call = (lines[at] ?? '').trim()
      // Where the goroutine was begun is no frame of it.
      if (call.startsWith('created by ')) break
      if (!place) continue
      frames.push(readFrame(call, place))
      at++
    }
    const panicked = frames.findLastIndex((frame) => PANICKING.test(frame.function ?? ''))
    const message = /^(?:panic|fatal error): ([\s\S]*?)(?:\n\n|\n\[signal|\n\tpanic: |$)/m.exec(head)?.[1] ?? head.trim()
    return anException({
      type: '',
      message: message.replace(/ \[recovered\]$/m, ''),
      frames: panicked < 0 ? frames : frames.slice(panicked + 1),
      thread: `goroutine ${ROUTINE.exec(lines[start] ?? '')?.[1] ?? ''}`,
    })
  },
}

function readFrame(call: string, [, file = '', line]: RegExpExecArray): Frame {
  const open = call.endsWith(')') ? openOfLast(call) : -1
  const name = open > 0 ? call.slice(0, open) : call
  return aFrame({ function: name, file, line: numberOf(line), isApp: isAppFile(file, name) })
}

function isAppFile(file: string, name: string): boolean {
  return !(
    /\/(?:go|golang|go-?\d[\d.]*)\/src\//.test(file) ||
    /\/pkg\/mod\/|\/vendor\/|\/third_party\//.test(file) ||
    /^(?:runtime|testing|syscall)[./]/.test(name) ||
    file.startsWith('_cgo')
  )
}
