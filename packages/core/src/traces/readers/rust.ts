import type { Frame, TraceReader } from '../trace.js'
import { aFrame, anException, numberOf } from './frame.js'

const PANIC = /^thread '([^']*)'(?: \(\d+\))? panicked at (?:'([\s\S]*)', )?(.+?):(\d+):(\d+):?$/
const FRAME = /^\s*(\d+):(?:\s+0x[0-9a-f]+ -)?\s+(.+)$/
const PLACE = /^\s+at (.+?):(\d+)(?::(\d+))?$/

/** Panics of Rust: where it panicked and why, and with a back trace its frames, innermost first, each with its place below. Without one the place in the head is all there is. */
export const rustReader: TraceReader = {
  language: 'rust',
  recognises: (line) => /^thread '[^']*'(?: \(\d+\))? panicked at /.test(line),
  read: (lines) => {
    const start = lines.findIndex((line) => /^thread '[^']*'(?: \(\d+\))? panicked at /.test(line))
    const trace = lines.findIndex((line, at) => at > start && /^stack backtrace:/.test(line))
    const end = lines.findIndex((line, at) => at > start && /^(?:stack backtrace:|note: )/.test(line))
    const body = lines.slice(start, end < 0 ? undefined : end)
    // Up to 1.72 the message stands in the first line, in quotes, and may run over several.
    const old = /^thread '[^']*' panicked at '([\s\S]*)', (.+?):(\d+):(\d+)\s*$/.exec(body.join('\n').trim())
    const head = PANIC.exec(body[0] ?? '')
    const message = old?.[1] ?? body.slice(1).join('\n').trim()
    const [file, line, column] = old ? [old[2], old[3], old[4]] : [head?.[3], head?.[4], head?.[5]]
    const place = aFrame({ file: file ?? null, line: numberOf(line), column: numberOf(column), isApp: file !== undefined && isAppFile(file) })
    const frames = trace < 0 ? [] : readFrames(lines.slice(trace + 1))
    return anException({
      type: '',
      message,
      frames: frames.length > 0 ? frames : [place],
      thread: /^thread '([^']*)'/.exec(body[0] ?? '')?.[1] ?? '',
    })
  },
}

function readFrames(lines: readonly string[]): Frame[] {
  const frames: Frame[] = []
  for (const line of lines) {
    const place = PLACE.exec(line)
    const last = frames.at(-1)
    if (place && last) {
      const file = place[1] ?? ''
      frames[frames.length - 1] = {
        ...last,
        file,
        line: numberOf(place[2]),
        column: numberOf(place[3]),
        isApp: isAppFile(file) && !isForeign(last.function ?? ''),
      }
      continue
    }
    const frame = FRAME.exec(line)
    if (frame) frames.push(aFrame({ function: comparable(frame[2] ?? '') }))
    else if (/^note: |^$/.test(line)) continue
    else break
  }
  // The machinery of panicking lies above the statement that panicked.
  const panicked = frames.findLastIndex((frame) =>
    /^(?:rust_begin_unwind|core::panicking::|core::(?:option|result)::(?:unwrap|expect)_failed|std::panicking::begin_panic)/.test(
      frame.function ?? '',
    ),
  )
  return frames.slice(panicked + 1)
}

/** Names without the hashes that a build gives them. */
function comparable(name: string): string {
  return name.replace(/::h[0-9a-f]{16}$/, '').replace(/\[[0-9a-f]{8,16}\]/g, '')
}

function isForeign(name: string): boolean {
  return (
    /^<?<?(?:std|core|alloc|proc_macro|backtrace|tokio|futures\w*|rayon\w*|hyper)::/.test(name) ||
    /^(?:rust_begin_unwind|__rust|_?main$|_start|__libc)/.test(name)
  )
}

function isAppFile(file: string): boolean {
  return !/^\/rustc\/|\/\.cargo\/|\/cargo\/registry\/|\/rustlib\/|^\/usr\/src\/|^library\//.test(file)
}
