import { posix } from 'node:path'
import { enclosingFunction } from '@dystracer/core/traces/enclosing-function'
import type { Frame, Trace, TraceException } from '@dystracer/core/traces/trace'
import {
  FlattenMap,
  isIgnored,
  originalPositionFor,
  sourceContentFor,
  type SectionedSourceMapInput,
  type TraceMap,
} from '@jridgewell/trace-mapping'
import { z } from 'zod'

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

const zMap = z.object({
  version: z.literal(3, 'version must be 3'),
  sources: z.array(z.string().nullable(), 'sources must be a list'),
  sourcesContent: z.array(z.string().nullable()).nullish(),
  names: z.array(z.string()).default([]),
  mappings: z.string('mappings must be a text').regex(/^[A-Za-z0-9+/,;]*$/, 'mappings must be of the characters that ECMA-426 names'),
  sourceRoot: z.string().nullish(),
  file: z.string().nullish(),
  ignoreList: z.array(z.number().int()).nullish(),
})
const zIndexMap = z.object({
  version: z.literal(3, 'version must be 3'),
  sections: z.array(z.object({ offset: z.object({ line: z.number().int(), column: z.number().int() }), map: zMap })).max(10_000),
})
/** What servers put before JSON so that no page can run it (ECMA-426, 5). */
const GUARD_LINE = /^\)\]\}'[^\n]*\n/

/**
 * A source map (ECMA-426), one of sections included, from its text. Throws a plain Error that says what is wrong where the text is none.
 */
export function parseSourceMap(text: string): TraceMap {
  const json: unknown = JSON.parse(text.replace(GUARD_LINE, ''))
  const isIndex = typeof json === 'object' && json !== null && 'sections' in json
  const parsed = isIndex ? zIndexMap.safeParse(json) : zMap.safeParse(json)
  if (!parsed.success) throw new Error(parsed.error.issues[0]?.message ?? 'it has not the fields of one')
  return new FlattenMap(parsed.data as SectionedSourceMapInput)
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

/**
 * A trace with the frames of built files led back to their sources: place, function and source line; each keeps the built place. Frames
 * without a map stay as they are.
 */
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
  // Mappings that are no such code give places without a source.
  if (found.source == null || found.line === null) return frame
  const lines = (sourceContentFor(map, found.source) ?? readSource(found.source))?.split('\n')
  const source = lines?.[found.line - 1]?.trim()
  const name = lines ? enclosingFunction(lines, found.line) : null
  return {
    ...frame,
    function: name ?? frame.function,
    file: found.source.replace(/^(?:\.\.?\/)+|^webpack:\/\/[^/]*\/(?:\.\/)?/, ''),
    line: found.line,
    column: found.column + 1,
    isApp: !isIgnored(map, found.source) && !/(?:^|\/)node_modules\/|^webpack\//.test(found.source),
    built: { file, line, column },
    ...(source !== undefined && { source }),
  }
}
