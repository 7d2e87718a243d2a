import type { Frame, TraceReader } from '../trace.js'
import { aFrame, anException, splitPosition } from './frame.js'

const PANIC = /^thread '([^']*)'(?: \(\d+\))? panicked at (.+)$/
const FRAME = /^\s*(\d+):(?:\s+0x[0-9a-f]+ -)?\s+(.+)$/
const PLACE = /^\s+at (\S.*)$/

/**
 * Panics of Rust: where it panicked and why, and with a back trace its frames, innermost first, each with its place below. Without one the
 * place in the head is all there is.
 */
export const rustReader: TraceReader = {
  language: 'rust',
  recognises: (line) => /^thread '[^']*'(?: \(\d+\))? panicked at /.test(line),
  read: (lines) => {
    const start = lines.findIndex((line) => /^thread '[^']*'(?: \(\d+\))? panicked at /.test(line))
    const trace = lines.findIndex((line, at) => at > start && /^stack backtrace:/.test(line))
    const end = lines.findIndex((line, at) => at > start && /^(?:stack backtrace:|note: )/.test(line))
    const body = lines.slice(start, end < 0 ? undefined : end)
    // Up to 1.72 the message stands in the first line, in quotes, and may run over several; its place follows the last quote.
    const text = body.join('\n').trim()
    const quoted = /^thread '[^']*' panicked at '/.exec(text)
    const endOfMessage = quoted ? text.lastIndexOf("', ") : -1
    const old = quoted && endOfMessage >= quoted[0].length ? splitPosition(text.slice(endOfMessage + 3)) : null
    const head = PANIC.exec(body[0] ?? '')
    const message = quoted && old ? text.slice(quoted[0].length, endOfMessage) : body.slice(1).join('\n').trim()
    const found = old ?? splitPosition((head?.[2] ?? '').replace(/:$/, ''))
    const place = aFrame({ ...found, isApp: found !== null && isAppFile(found.file) })
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
    const place = splitPosition(PLACE.exec(line)?.[1] ?? '')
    const last = frames.at(-1)
    if (place && last) {
      frames[frames.length - 1] = { ...last, ...place, isApp: isAppFile(place.file) && !isForeign(last.function ?? '') }
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
