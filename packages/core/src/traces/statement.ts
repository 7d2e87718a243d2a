import { comparableFile, comparableFunction, comparableType, functionOf, isGuard } from './comparable.js'
import { messageTemplate } from './mask-message.js'
import type { Frame, Trace, TraceException, TraceLanguage } from './trace.js'

/** Where and how a trace failed, apart from what differs between occurrences: what decides which fault it is. */
export interface FailedStatement {
  language: TraceLanguage
  /** The exception that decides: the deepest cause that has frames of the program's own. */
  decisive: TraceException
  type: string
  template: string
  /** The frame whose statement is to blame, and the one above it where that is a shared guard. */
  frame: Frame | null
  guard: Frame | null
  file: string
  function: string | null
  /** Frames of the program's own, to see how far lines have moved. */
  appFrames: Frame[]
  /** Recursion without end stops at any of its statements. */
  isRecursion: boolean
}

const DEPTH_MAX = 50

/**
 * The exception that decides. A wrapper that throws again does not; an error that came up while another was being handled does, where its
 * source line shows that it was no new throw.
 */
export function decisiveException(outermost: TraceException, depth = 0): TraceException {
  if (depth > DEPTH_MAX) return outermost
  // A group gathers failures that come together by chance: where it is gathered decides, unless that is in no code of the program's own.
  if (outermost.members && hasOwn(outermost)) return outermost
  const member = outermost.members?.map((one) => decisiveException(one, depth + 1)).find(hasOwn)
  if (member) return member
  const { cause } = outermost
  if (cause === null) return outermost
  const source = outermost.frames.find((frame) => frame.isApp)?.source
  if (outermost.isContext && source !== undefined && !/^raise\b/.test(source)) return outermost
  const deeper = decisiveException(cause, depth + 1)
  return hasOwn(deeper) ? deeper : outermost
}

/** So many frames at least, most of them of one function, are recursion without end. */
const ENDLESS_FRAMES = 40

/**
 * Whether the stack ran out: as the runtime says it (versions name it by different types), or where a native program just crashed, by most
 * of the frames being one function's.
 */
function isEndless(language: TraceLanguage, { type, message, frames }: TraceException, top: Frame | null): boolean {
  if (/^(?:RecursionError|StackOverflowError|SystemStackError|StackOverflowException|stack-overflow)$/.test(comparableType(type).trim()))
    return true
  if (messageTemplate(message) === 'recursion') return true
  if (language !== 'native' || top === null || frames.length < ENDLESS_FRAMES) return false
  return frames.filter((frame) => frame.function === top.function).length > frames.length / 2
}

const CRASH = new RegExp(
  String.raw`^(?:SIG[A-Z]+|SEGV|FPE|ABRT|ILL|BUS|Aborted|Segmentation fault|runtime error|\w*Sanitizer.*|(?:heap|stack|` +
    String.raw`global|container|dynamic-stack)-[\w-]+|[\w-]*(?:use-after|double-free|free|overflow|underflow)[\w-]*)$`,
)

/**
 * A type without what the way of reporting adds: a debugger and a sanitizer name a crash differently, and Go's panics are of whatever type
 * the value has.
 */
function plainType(language: TraceLanguage, type: string): string {
  if (language === 'go') return 'panic'
  return language === 'native' && CRASH.test(type.trim()) ? 'crash' : comparableType(type)
}

function hasOwn(exception: TraceException): boolean {
  return exception.frames.some((frame) => frame.isApp)
}

/** The statement that failed in a trace. O(frames). */
export function failedStatement(trace: Trace): FailedStatement {
  const decisive = decisiveException(trace.exception)
  const { frames } = decisive
  const first = frames.findIndex((frame) => frame.isApp)
  const top = first < 0 ? null : (frames[first] ?? null)
  const isRecursion = isEndless(trace.language, decisive, top)
  let at = first
  if (top && !isRecursion && isGuard(top)) {
    const caller = frames.findIndex(
      (frame, index) =>
        index > first && frame.isApp && !isGuard(frame) && comparableFunction(frame.function) !== comparableFunction(top.function),
    )
    if (caller >= 0) at = caller
  }
  const frame = at < 0 ? (frames[0] ?? null) : (frames[at] ?? null)
  return {
    language: trace.language,
    decisive,
    type: isRecursion ? 'recursion' : plainType(trace.language, decisive.type),
    template: messageTemplate(decisive.message),
    frame,
    guard: at > first ? top : null,
    file: comparableFile(frame?.file ?? null),
    function: frame === null ? null : functionOf(frames, Math.max(0, at)),
    appFrames: frames.filter((one) => one.isApp),
    isRecursion,
  }
}
