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

/** A trace with the frames of built files led back to their sources: place, function and source line; each keeps the built place. Frames without a map stay as they are. */
export function mapTrace(trace: Trace, findMap: FindMap): Trace {
  return trace.language === 'javascript' ? { ...trace, exception: mapException(trace.exception, findMap, 0) } : trace
}

function mapException(exception: TraceException, findMap: FindMap, depth: number): TraceException {
  if (depth > 20) return exception
  return {
    ...exception,
    frames: exception.frames.map((frame) => mapFrame(frame, findMap)),
    cause: exception.cause && mapException(exception.cause, findMap, depth + 1),
    ...(exception.members && { members: exception.members.map((member) => mapException(member, findMap, depth + 1)) }),
  }
}

function mapFrame(frame: Frame, findMap: FindMap): Frame {
  const { file, line, column } = frame
  if (file === null || line === null || !frame.isApp) return frame
  const map = findMap(file)
  if (map === null) return frame
  // Runtimes count columns from 1, source maps from 0.
  const found = originalPositionFor(map, { line, column: Math.max(0, (column ?? 1) - 1) })
  if (found.source === null || found.line === null) return frame
  const lines = sourceContentFor(map, found.source)?.split('\n')
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
