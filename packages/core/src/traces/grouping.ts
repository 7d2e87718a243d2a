import { maskMessage } from './mask-message.js'
import type { Frame, Trace, TraceException } from './trace.js'

export interface Grouping {
  /** Two occurrences with the same key (within one service) are the same fault. */
  key: string
  type: string
  message: string
  maskedMessage: string
  /** The innermost own frame of the exception that decides. */
  topAppFrame: Frame | null
  /** Why these occurrences are one, as facts for the interface to put into words. */
  reason: { basis: 'app-frame' | 'frame' | 'message'; frame: string | null; maskedValues: number }
}

/**
 * The identity of a fault: type and masked message of the deepest cause that has frames of its own, with the function and file of its
 * innermost own frame. Lines are left out, so that code that only moved stays the same fault; deployment folders are left out by
 * keeping the last two path segments. O(frames).
 */
export function groupTrace(trace: Trace): Grouping {
  const decisive = decisiveException(trace.exception)
  const maskedMessage = maskMessage(decisive.message)
  const appFrame = decisive.frames.find((frame) => frame.isApp) ?? null
  const frame = appFrame ?? decisive.frames[0] ?? null
  const place = frame ? `${comparableFunction(frame.function)}@${comparableFile(frame.file)}` : null
  return {
    key: [decisive.type, maskedMessage, place ?? ''].join('\n'),
    type: decisive.type,
    message: decisive.message,
    maskedMessage,
    topAppFrame: appFrame,
    reason: {
      basis: appFrame ? 'app-frame' : frame ? 'frame' : 'message',
      frame: place,
      maskedValues: (maskedMessage.match(/<(?:uuid|time|mail|url|address|hex|text|number)>/g) ?? []).length,
    },
  }
}

/** The deepest cause with a frame of the program's own: a wrapper that rethrows does not decide. */
function decisiveException(outermost: TraceException): TraceException {
  let decisive = outermost
  for (let cause = outermost.cause; cause; cause = cause.cause) {
    if (cause.frames.some((frame) => frame.isApp)) decisive = cause
  }
  return decisive
}

function comparableFunction(name: string | null): string {
  return (name ?? '<anonymous>').replace(/^async /, '')
}

/** Last two segments, with build hashes in file names taken out. */
function comparableFile(file: string | null): string {
  const segments = (file ?? '').replaceAll('\\', '/').split('/').filter(Boolean).slice(-2)
  return segments.join('/').replace(/[.-][0-9a-f]{8,}(?=\.\w+$)/i, '')
}
