import { gunzipSync } from 'node:zlib'
import { join } from 'node:path'
import { LRUCache } from 'lru-cache'
import { tellOwnFrames } from '@dystracer/core/traces/own-code'
import { readTrace } from '@dystracer/core/traces/read-trace'
import { plainPath, TrackedFiles } from '@dystracer/core/traces/tracked-files'
import type { Trace } from '@dystracer/core/traces/trace'
import { assertSha, runGitNow } from './run-git.js'
import { builtFileName, mapTrace, namedMap, parseSourceMap } from './source-maps.js'
import type { Db } from '#platform/db/open'

/** So many source maps and releases stay in memory; one map takes some megabytes. */
const MAPS_MAX = 16
const RELEASES_MAX = 32
const MISSES_MAX = 20_000
const MAP_MAX_BYTES = 64 << 20

type Map3 = ReturnType<typeof parseSourceMap>
export interface Place {
  service: string
  release: string
}
/** A trace as it came, with where it came from. */
export interface PlacedTrace extends Place {
  stacktrace: string
  type: string
  message: string
  runtime?: string
}
/**
 * The code of one release, as far as it is known: without a mirror of its repository, or before its tag is there, only what people said.
 */
interface Code {
  dir: string | null
  sha: string | null
  tracked: TrackedFiles | null
  own: string[]
  foreign: string[]
}
interface ServiceRow {
  repository: string
  path_prefix: string
  own_code: string
  foreign_code: string
  sha: string | null
}

/**
 * Reads stack traces with what is known of the release that they come from: frames of built files are led back by source maps (uploaded, or
 * found beside the file in the repository), then told
 * apart into own and others' by the files that are tracked at that release and by what people said of the service. For workers: looks into
 * both databases without writing, and asks git.
 */
export class ReleaseCode {
  readonly #volume
  readonly #main
  readonly #mirrorsDir: string
  readonly #codes = new LRUCache<string, Code>({ max: RELEASES_MAX })
  readonly #maps = new LRUCache<string, Map3>({ max: MAPS_MAX })
  readonly #misses = new LRUCache<string, true>({ max: MISSES_MAX })
  #uploaded = new Set<string>()

  /** `main` may be null where there is none, as in a bench of the intake alone: then only uploaded maps count. */
  constructor({ volume, main, mirrorsDir }: { volume: Db; main: Db | null; mirrorsDir: string }) {
    this.#mirrorsDir = mirrorsDir
    this.#volume = {
      maps: volume.prepare<[], { service: string; release: string }>('SELECT DISTINCT service, release FROM source_map'),
      map: volume.prepare<[string, string, string], { map: Buffer }>(
        'SELECT map FROM source_map WHERE service = ? AND release = ? AND file = ?',
      ),
    }
    this.#main = main?.prepare<{ service: string; release: string }, ServiceRow>(
      `SELECT s.repository, s.path_prefix, s.own_code, s.foreign_code, r.sha FROM service s
        LEFT JOIN release r ON r.service = s.name AND r.name = @release WHERE s.name = @service`,
    )
    this.forget()
  }

  /** Looks anew at what people said, which maps there are and where tags stand; call it when any of them changed. */
  forget(): void {
    this.#codes.clear()
    this.#maps.clear()
    this.#misses.clear()
    this.#uploaded = new Set(this.#volume.maps.all().map((row) => `${row.service}\n${row.release}`))
  }

  read({ stacktrace, type, message, runtime, ...place }: PlacedTrace): Trace {
    const trace = readTrace(stacktrace, { ...(type && { type }), ...(message && { message }), ...(runtime && { runtime }) })
    const code = this.#codeOf(place)
    const mapped = mapTrace(
      trace,
      (file) => this.#mapOf(place, code, file),
      (source) => readTracked(code, code?.tracked?.resolve(plainPath(source)) ?? null),
    )
    return code === null ? mapped : tellOwnFrames(mapped, code)
  }

  #codeOf(place: Place): Code | null {
    const id = `${place.service}\n${place.release}`
    const known = this.#codes.get(id)
    if (known) return known
    const row = this.#main?.get({ service: place.service, release: place.release })
    if (!row) return null
    const dir = join(this.#mirrorsDir, `${row.repository}.git`)
    const code: Code = {
      dir,
      sha: row.sha,
      tracked: row.sha === null ? null : trackedFiles(dir, row.sha, row.path_prefix),
      own: JSON.parse(row.own_code) as string[],
      foreign: JSON.parse(row.foreign_code) as string[],
    }
    this.#codes.set(id, code)
    return code
  }

  #mapOf(place: Place, code: Code | null, builtFile: string): Map3 | null {
    if (code?.tracked == null && !this.#uploaded.has(`${place.service}\n${place.release}`)) return null
    const id = `${place.service}\n${place.release}\n${builtFile}`
    const known = this.#maps.get(id)
    if (known) return known
    if (this.#misses.has(id)) return null
    const map = this.#uploadedMap(place, builtFile) ?? trackedMap(code, builtFile)
    if (map === null) {
      this.#misses.set(id, true)
      return null
    }
    this.#maps.set(id, map)
    return map
  }

  #uploadedMap({ service, release }: Place, builtFile: string): Map3 | null {
    const row = this.#volume.map.get(service, release, builtFileName(builtFile))
    return row ? parseSourceMap(gunzipSync(row.map).toString('utf8')) : null
  }
}

function trackedFiles(dir: string, sha: string, within: string): TrackedFiles | null {
  const list = runGitNow(['ls-tree', '-r', '-z', '--name-only', '--full-tree', '--end-of-options', assertSha(sha)], { dir })
  return list === null ? null : new TrackedFiles(list.toString('utf8').split('\0').filter(Boolean), within)
}

/** The text of a tracked file at the release; null for none. */
function readTracked(code: Code | null, path: string | null): string | null {
  if (path === null || code === null || code.dir === null || code.sha === null || !code.tracked?.has(path)) return null
  const spec = `${assertSha(code.sha)}:${path}`
  return runGitNow(['cat-file', 'blob', '--end-of-options', spec], { dir: code.dir, maxBytes: MAP_MAX_BYTES })?.toString('utf8') ?? null
}

/** Files whose place says that they were built; others are not opened to see whether they name a map. */
const BUILT_FOLDER = /(?:^|\/)(?:dist|build|out|output|public|assets|static|bundles?|lib)\//

/** The map beside a tracked built file by its name, else the one that the file names in its closing comment (ECMA-426). */
function trackedMap(code: Code | null, builtFile: string): Map3 | null {
  if (!code?.tracked) return null
  const plain = plainPath(builtFile)
  const built = code.tracked.resolve(plain)
  const beside = parsed(readTracked(code, built === null ? code.tracked.resolve(`${plain}.map`) : `${built}.map`))
  if (beside || built === null || !BUILT_FOLDER.test(built)) return beside
  const named = namedMap(readTracked(code, built) ?? '', built)
  return named && parsed('text' in named ? named.text : readTracked(code, named.path))
}

function parsed(text: string | null): Map3 | null {
  try {
    return text === null ? null : parseSourceMap(text)
  } catch (error) {
    // What a repository holds under that name need not be a map; the frame stays as it was printed.
    if (error instanceof Error) return null
    throw error
  }
}
