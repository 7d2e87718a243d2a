import { LRUCache } from 'lru-cache'
import { pathOfFrame, type TrackedFiles } from './tracked-files.js'
import type { Frame, Trace, TraceException } from './trace.js'

/** What is known of a program beyond the conventions of its language: the files tracked at that release, and what people said. */
export interface OwnCode {
  tracked: TrackedFiles | null
  /** Paths and packages that are the program's own, and those that are not: `src/app`, `org.example.app`, `lib/*_generated`. */
  own: readonly string[]
  foreign: readonly string[]
}

const DEPTH_MAX = 20

/**
 * A trace with its own frames told anew. What people said wins; then a frame whose file is tracked is ours; then one that lies outside of
 * the folder that the tracked files are deployed in is not;
 * the language's conventions decide the rest. The same trace where nothing changes. O(frames × patterns).
 */
export function tellOwnFrames(trace: Trace, code: OwnCode): Trace {
  if (code.tracked === null && code.own.length === 0 && code.foreign.length === 0) return trace
  const ownPatterns = code.own.map(partPattern)
  const foreignPatterns = code.foreign.map(partPattern)
  const roots = code.tracked === null ? [] : deployedIn(trace, code.tracked)
  const tell = (frame: Frame): boolean => {
    const path = pathOfFrame(frame, trace.language)
    const texts = [path ?? '', (frame.function ?? '').replaceAll('.', '/').replaceAll('::', '/').replaceAll('\\', '/')]
    if (foreignPatterns.some((pattern) => texts.some((text) => pattern.test(text)))) return false
    if (ownPatterns.some((pattern) => texts.some((text) => pattern.test(text)))) return true
    if (path === null || code.tracked === null) return frame.isApp
    if (isTracked(frame, path, code.tracked)) return true
    const isElsewhere = roots.length > 0 && path.startsWith('/') && !roots.some((root) => path.startsWith(root))
    return frame.isApp && !isElsewhere
  }
  const exception = tellException(trace.exception, tell, 0)
  return exception === trace.exception ? trace : { ...trace, exception }
}

/** A name without its folder says too little to make ours what convention calls another's. */
function isTracked(frame: Frame, path: string, tracked: TrackedFiles): boolean {
  return (frame.isApp || (tracked.resolve(path) ?? '').includes('/')) && tracked.has(path)
}

function tellException(exception: TraceException, tell: (frame: Frame) => boolean, depth: number): TraceException {
  if (depth > DEPTH_MAX) return exception
  const frames = changedList(exception.frames, (frame) => {
    const isApp = tell(frame)
    return isApp === frame.isApp ? frame : { ...frame, isApp }
  })
  const deeper = (one: TraceException) => tellException(one, tell, depth + 1)
  const cause = exception.cause && deeper(exception.cause)
  const members = exception.members && changedList(exception.members, deeper)
  const suppressed = exception.suppressed && changedList(exception.suppressed, deeper)
  if (frames === exception.frames && cause === exception.cause && members === exception.members && suppressed === exception.suppressed)
    return exception
  return { ...exception, frames, cause, ...(members && { members }), ...(suppressed && { suppressed }) }
}

function changedList<Value>(list: Value[], change: (value: Value) => Value): Value[] {
  const next = list.map(change)
  return next.some((value, at) => value !== list[at]) ? next : list
}

/** The folders that the tracked files of a trace are deployed in: what stands before them in absolute paths. */
function deployedIn(trace: Trace, tracked: TrackedFiles): string[] {
  const roots = new Set<string>()
  for (const frame of framesOf(trace.exception, 0)) {
    const path = pathOfFrame(frame, trace.language)
    if (path === null || !path.startsWith('/')) continue
    const file = tracked.resolve(path)
    if (file !== null && path.endsWith(`/${file}`) && isTracked(frame, path, tracked)) roots.add(path.slice(0, -file.length))
  }
  return [...roots]
}

function* framesOf(exception: TraceException, depth: number): Generator<Frame> {
  if (depth > DEPTH_MAX) return
  yield* exception.frames
  for (const one of [exception.cause, ...(exception.members ?? []), ...(exception.suppressed ?? [])])
    if (one) yield* framesOf(one, depth + 1)
}

const NOTHING = /(?!)/
const SOURCE_FILE = /\.(?:[cm]?[jt]sx?|py|rb|php|go|rs|java|kt|scala|cs|exs?|dart|swift|c|h|cc|cpp|hpp|p[lm])$/
const PATTERNS_MAX = 1000
const patterns = new LRUCache<string, RegExp>({ max: PATTERNS_MAX })
/** A path or package that stands in another, whole parts at a time; `*` is any run within one part. */
function partPattern(text: string): RegExp {
  const known = patterns.get(text)
  if (known) return known
  const parts = text
    .trim()
    .replaceAll('\\', '/')
    .replaceAll('::', '/')
    .split('/')
    .filter(Boolean)
    // A package's dots are borders, those of a file's ending are not.
    .flatMap((part) => (SOURCE_FILE.test(part) ? [part] : part.split('.').filter(Boolean)))
    .map((part) => part.replace(/[.+?^${}()|[\]\\]/g, '\\$&').replace(/\*+/g, '[^/]*'))
  const pattern = parts.length === 0 ? NOTHING : new RegExp(`(?:^|/)${parts.join('/')}(?:/|$)`)
  patterns.set(text, pattern)
  return pattern
}
