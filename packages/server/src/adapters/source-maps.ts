import { posix } from 'node:path'
import { enclosingFunction } from '@dystracer/core/traces/enclosing-function'
import type { Frame, Trace, TraceException } from '@dystracer/core/traces/trace'
import { originalPositionFor, sourceContentFor, TraceMap } from '@jridgewell/trace-mapping'

/** The source map of a built file, by the name that a trace calls it; null where there is none. */
export type FindMap = (builtFile: string) => TraceMap | null

/** A built file is known by its own name: where it is deployed changes. */
export function builtFileName(file: string): string {
  return (
    file
      .replace(/[?#].*$/, '')
      .split(/[\\/]/)
      .at(-1) ?? ''
  )
    .replace(/\.map$/, '')
    .slice(0, 200)
}

/** A source map (ECMA-426) from its text. Throws where the text is none. */
export function parseSourceMap(text: string): TraceMap {
  return new TraceMap(text)
}

/** The text of a source file that a map names without holding it; null where it is not to be had. */
export type ReadSource = (source: string) => string | null

const DATA_URL = /^data:application\/json(?:;charset=[\w-]+)?;base64,/
/** The comment stands in the last lines; so much of the end is looked at, unless the map itself is in it. */
const TAIL_MAX = 4000

/** The map that a built file names in its closing comment: itself as a text, or by its path in the repository. Null where it names none. */
export function namedMap(builtText: string, builtPath: string): { text: string } | { path: string } | null {
  const at = builtText.lastIndexOf('sourceMappingURL=')
  if (at < 0) return null
  const url = /^\S+/.exec(builtText.slice(at + 17))?.[0] ?? ''
  if (DATA_URL.test(url)) return { text: Buffer.from(url.replace(DATA_URL, ''), 'base64').toString('utf8') }
  if (builtText.length - at > TAIL_MAX || /^[a-z][a-z0-9+.-]*:/i.test(url)) return null
  return { path: posix.normalize(posix.join(posix.dirname(builtPath), url.replace(/[?#].*$/, ''))) }
}

/** A trace with the frames of built files led back to their sources: place, function and source line; each keeps the built place. Frames without a map stay as they are. */
export function mapTrace(trace: Trace, findMap: FindMap, readSource: ReadSource = () => null): Trace {
  return trace.language === 'javascript' ? { ...trace, exception: mapException(trace.exception, { findMap, readSource }, 0) } : trace
}

interface Maps {
  findMap: FindMap
  readSource: ReadSource
}

function mapException(exception: TraceException, maps: Maps, depth: number): TraceException {
  if (depth > 20) return exception
  return {
    ...exception,
    frames: exception.frames.map((frame) => mapFrame(frame, maps)),
    cause: exception.cause && mapException(exception.cause, maps, depth + 1),
    ...(exception.members && { members: exception.members.map((member) => mapException(member, maps, depth + 1)) }),
  }
}

function mapFrame(frame: Frame, { findMap, readSource }: Maps): Frame {
  const { file, line, column } = frame
  if (file === null || line === null || !frame.isApp) return frame
  const map = findMap(file)
  if (map === null) return frame
  // Runtimes count columns from 1, source maps from 0.
  const found = originalPositionFor(map, { line, column: Math.max(0, (column ?? 1) - 1) })
  if (found.source === null || found.line === null) return frame
  const lines = (sourceContentFor(map, found.source) ?? readSource(found.source))?.split('\n')
  const source = lines?.[found.line - 1]?.trim()
  const name = lines ? enclosingFunction(lines, found.line) : null
  return {
    ...frame,
    function: name ?? frame.function,
    file: found.source.replace(/^(?:\.\.?\/)+|^webpack:\/{2,3}(?:[^/]*\/)?(?:\.\/)?/, ''),
    line: found.line,
    column: found.column + 1,
    isApp: !/(?:^|\/)node_modules\/|^webpack\//.test(found.source),
    built: { file, line, column },
    ...(source !== undefined && { source }),
  }
}
