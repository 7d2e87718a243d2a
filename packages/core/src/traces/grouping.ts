import { comparableFunction } from './comparable.js'
import { maskMessage } from './mask-message.js'
import { failedStatement, type FailedStatement } from './statement.js'
import type { Frame, Trace } from './trace.js'

/** The key by which an occurrence joins a fault, and what it was made from. */
export interface Grouping {
  /**
   * Two occurrences with the same key (within one service) failed at the same place in the same way; `fault-sites.ts` tells statements of
   * one function apart.
   */
  key: string
  type: string
  message: string
  maskedMessage: string
  /** The innermost own frame of the exception that decides. */
  topAppFrame: Frame | null
  /** Why these occurrences are one, as facts for the interface to put into words. */
  reason: {
    basis: 'app-frame' | 'frame' | 'message'
    frame: string | null
    maskedValues: number
    guard?: string | null
    cause?: boolean
    by?: 'line' | 'followed' | 'new'
  }
}

/**
 * The identity of a fault: type, and the function and file of the statement to blame in the deepest cause that has frames of its own. Lines
 * are left out, so that code that only moved stays the same
 * fault; so are deployment folders, build hashes and versions. Where there is no frame, the meaning of the message stands for the place.
 * O(frames).
 */
export function groupTrace(trace: Trace): Grouping {
  return groupingOf(failedStatement(trace), trace)
}

/** The grouping key of an occurrence: by the failed statement where it was found, else by the trace's shape. */
export function groupingOf(statement: FailedStatement, trace: Trace): Grouping {
  const { decisive, frame, guard } = statement
  const maskedMessage = maskMessage(decisive.message)
  const place = frame ? `${statement.function ?? '<anonymous>'}@${statement.file}` : null
  const isOwn = frame?.isApp === true
  return {
    key: [
      statement.type,
      statement.isRecursion ? 'recursion' : statement.template,
      place ?? '',
      comparableFunction(guard?.function ?? null) ?? '',
    ].join('\n'),
    type: decisive.type,
    message: decisive.message,
    maskedMessage,
    topAppFrame: decisive.frames.find((one) => one.isApp) ?? null,
    reason: {
      basis: isOwn ? 'app-frame' : frame ? 'frame' : 'message',
      frame: place,
      maskedValues: (maskedMessage.match(/<(?:uuid|time|mail|url|address|path|hex|text|number)>/g) ?? []).length,
      guard: guard?.function ?? null,
      cause: decisive !== trace.exception,
    },
  }
}
