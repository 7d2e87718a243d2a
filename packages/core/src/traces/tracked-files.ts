import type { Frame, TraceLanguage } from './trace.js'

/** Folders that package managers and runtimes fill: what lies in them is another's, unless the repository itself tracks it there. */
const PACKAGE_FOLDER = new RegExp(
  String.raw`(?:^|\/)(?:node_modules|site-packages|dist-packages|bower_components|\.cargo\/registry|rustc\/[0-9a-f]{40}|` +
    String.raw`pkg\/mod|gems|vendor\/bundle|\.pub-cache|lib\/python[\d.]+|go\/src|deps)(?:\/|$)`,
)
/** Of so many files with one name at most as many are looked at. */
const SAME_NAME_MAX = 400

/** The files that a repository tracks at one release, found by the paths that stack traces print. */
export class TrackedFiles {
  readonly #byName = new Map<string, string[]>()
  readonly #within: string

  /** `within` is the folder that the program is built from: of several files that fit, those in it win. */
  constructor(paths: readonly string[], within = '') {
    this.#within = within === '' ? '' : `${within}/`
    for (const path of paths) {
      const name = nameOf(path)
      const same = this.#byName.get(name)
      if (same === undefined) this.#byName.set(name, [path])
      else if (same.length < SAME_NAME_MAX) same.push(path)
    }
  }

  /**
   * The tracked file that a printed path means: one of the two ends with the other, whole folders at a time, so that neither the folder of
   * the deployment nor that of the sources matters. The
   * longest such file wins. Null when there is none, when several fit equally well, and when what stands before it is a folder of packages.
   * O(files of that name).
   */
  resolve(printed: string): string | null {
    const fits = this.#fits(printed)
    const longest = Math.max(...fits.map((path) => common(printed, path)))
    const best = fits.filter((path) => common(printed, path) === longest)
    const ours = best.length > 1 ? best.filter((path) => path.startsWith(this.#within)) : best
    return ours.length === 1 ? (ours[0] ?? null) : null
  }

  /** Whether a printed path means a tracked file, even where several fit. */
  has(printed: string): boolean {
    return this.#fits(printed).length > 0
  }

  #fits(printed: string): string[] {
    const plain = plainPath(printed)
    return (this.#byName.get(nameOf(plain)) ?? []).filter((path) => {
      if (path === plain || path.endsWith(`/${plain}`)) return true
      return plain.endsWith(`/${path}`) && !PACKAGE_FOLDER.test(plain.slice(0, -path.length - 1))
    })
  }
}

/** A path with forward slashes, without scheme and host, `.` and what bundlers put before it. */
export function plainPath(path: string): string {
  return path
    .replace(/^(?:file|https?|app|webpack(?:-internal)?|package):\/{0,3}(?=[^/])/, (scheme) => (/^https?:/.test(scheme) ? '/' : ''))
    .replaceAll('\\', '/')
    .replace(/[?#].*$/, '')
    .replace(/\/\.(?=\/)/g, '')
    .replace(/^(?:\.{1,2}\/)+/, '')
    .replace(/^\/+(?=[A-Za-z]:)/, '')
}

/**
 * The path by which a frame's file is looked for: Java and its kin print a name only, and say the folder in the package. Null where there
 * is no file.
 */
export function pathOfFrame(frame: Frame, language: TraceLanguage): string | null {
  const { file } = frame
  if (file === null || file.startsWith('<') || file.startsWith('node:')) return null
  if (language === 'java' && !file.includes('/')) {
    const owner = (frame.function ?? '').replace(/^(?:[\w.@-]*\/)+/, '').split('.')
    const folder = owner.slice(0, -2).filter((part) => /^[a-z_]/.test(part))
    return [...folder, file].join('/')
  }
  if (language === 'dart' && file.startsWith('package:')) return file.replace(/^package:[^/]+/, 'lib')
  return plainPath(file)
}

function nameOf(path: string): string {
  return path.slice(path.lastIndexOf('/') + 1)
}

function common(printed: string, path: string): number {
  return Math.min(plainPath(printed).length, path.length)
}
