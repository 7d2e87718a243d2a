import { parse as parseToml } from 'smol-toml'
import { parseDocument } from 'yaml'
import { z } from 'zod'
import { byNameAndVersion, type PackageRef, type PackageType } from './package-ref.js'

/** So many packages of one lock file are kept; more is no program's. */
const PACKAGES_MAX = 50_000
const NAME_MAX = 300

/** How one kind of lock file is known by its name, and what its packages are. */
interface LockFormat {
  name: RegExp
  type: PackageType
  /** Name and version of each package; throws for what it cannot read. */
  read(text: string): Iterable<readonly [name: string, version: string | undefined]>
}

const zVersioned = z.object({ version: z.string().optional() })
const zNpm = z.object({
  packages: z.record(z.string(), zVersioned.extend({ link: z.boolean().optional(), name: z.string().optional() })).optional(),
  dependencies: z.record(z.string(), zVersioned).optional(),
})
const zPackageList = z.object({ package: z.array(zVersioned.extend({ name: z.string() })).default([]) })
const zPipfile = z.object({ default: z.record(z.string(), zVersioned).default({}), develop: z.record(z.string(), zVersioned).default({}) })
const zComposer = z.object({
  packages: z.array(zVersioned.extend({ name: z.string() })).default([]),
  'packages-dev': z.array(zVersioned.extend({ name: z.string() })).default([]),
})
const zNuget = z.object({
  dependencies: z.record(z.string(), z.record(z.string(), z.object({ resolved: z.string().optional() }))).default({}),
})
const zPnpm = z.object({ packages: z.record(z.string(), z.unknown()).nullish() })
const zYarn = z.record(z.string(), z.unknown())
const zPub = z.object({ packages: z.record(z.string(), zVersioned).default({}) })

/** The lock files that are read, each by the documents of its program. */
const FORMATS: readonly LockFormat[] = [
  { name: /^(?:package-lock|npm-shrinkwrap)\.json$/, type: 'npm', read: readNpm },
  { name: /^yarn\.lock$/, type: 'npm', read: readYarn },
  { name: /^pnpm-lock\.yaml$/, type: 'npm', read: readPnpm },
  { name: /^(?:poetry|uv|pdm)\.lock$/, type: 'pypi', read: readPackageList },
  { name: /^Pipfile\.lock$/, type: 'pypi', read: readPipfile },
  { name: /^requirements(?:[-_.][\w-]+)?\.txt$/, type: 'pypi', read: readPins },
  { name: /^Cargo\.lock$/, type: 'cargo', read: readPackageList },
  { name: /^go\.mod$/, type: 'golang', read: readGoMod },
  { name: /^composer\.lock$/, type: 'composer', read: readComposer },
  { name: /^Gemfile\.lock$/, type: 'gem', read: readGemfile },
  { name: /^packages\.lock\.json$/, type: 'nuget', read: readNuget },
  { name: /^gradle\.lockfile$/, type: 'maven', read: readGradle },
  { name: /^pubspec\.lock$/, type: 'pub', read: readPub },
]

/** Whether a path is that of a lock file that can be read; what package managers put beside their packages is not the program's own. */
export function isLockFile(path: string): boolean {
  return !/(?:^|\/)(?:node_modules|vendor|\.venv)\//.test(path) && formatOf(path) !== undefined
}

/**
 * The packages that a lock file names, each once, in order of their names. Null where the text is none of the kind that its name says.
 * Linear in the text, but for sorting. Nothing in it is followed or fetched.
 */
export function readLockFile(path: string, text: string): PackageRef[] | null {
  const format = formatOf(path)
  if (!format) return null
  const known = new Map<string, PackageRef>()
  try {
    for (const [name, version] of format.read(text)) {
      if (name === '' || name.length > NAME_MAX || version === undefined || version === '' || version.length > NAME_MAX) continue
      known.set(`${name}@${version}`, { type: format.type, name, version })
      if (known.size >= PACKAGES_MAX) break
    }
  } catch (error) {
    // What is no JSON, TOML or YAML, or another shape of it, is said by each reader's own error.
    if (error instanceof Error) return null
    throw error
  }
  return [...known.values()].sort(byNameAndVersion)
}

function formatOf(path: string): LockFormat | undefined {
  const name = path.slice(path.lastIndexOf('/') + 1)
  return FORMATS.find((format) => format.name.test(name))
}

/** Versions 1 to 3: what is installed stands by its path, or, in version 1, as a tree of which the first level is taken. */
function* readNpm(text: string) {
  const { packages, dependencies } = zNpm.parse(JSON.parse(text))
  for (const [path, { version, link, name }] of Object.entries(packages ?? {})) {
    const at = path.lastIndexOf('node_modules/')
    // A package of the repository itself is no dependency: it lies in no such folder.
    if (at >= 0 && link !== true) yield [name ?? path.slice(at + 'node_modules/'.length), version] as const
  }
  if (packages === undefined) for (const [name, { version }] of Object.entries(dependencies ?? {})) yield [name, version] as const
}

/** The older form has lines of its own, the newer is YAML; the key names what was asked for: `"@a/b@^1", "@a/b@^1.2"`. */
function* readYarn(text: string) {
  const nameIn = (key: string) => /^"?((?:@[^@/\s]+\/)?[^@\s,"]+)@/.exec(key)?.[1] ?? ''
  if (/^__metadata:/m.test(text)) {
    for (const [key, value] of Object.entries(zYarn.parse(plainYaml(text)))) {
      const { version, linkType } = z.object({ version: z.string().optional(), linkType: z.string().optional() }).loose().parse(value)
      if (linkType !== 'soft' && key !== '__metadata') yield [nameIn(key), version] as const
    }
    return
  }
  let name = ''
  let isAny = false
  for (const line of text.split('\n')) {
    if (/^\S.*:\s*$/.test(line) && !line.startsWith('#')) name = nameIn(line)
    const version = /^ {2}version "?([^"\s]+)"?\s*$/.exec(line)?.[1]
    if (version) yield [name, version] as const
    isAny ||= version !== undefined || /^# yarn lockfile/.test(line)
  }
  if (!isAny) throw new Error('no lock file of yarn')
}

/** Keys are `/name/1.0.0` (version 5), `/name@1.0.0` (6) or `name@1.0.0` (9), with peers in brackets behind. */
function* readPnpm(text: string) {
  const { packages } = zPnpm.parse(plainYaml(text))
  for (const key of Object.keys(packages ?? {})) {
    const plain = key.replace(/^\//, '').replace(/\(.*$/, '')
    const [, name, version] = /^((?:@[^@/]+\/)?[^@/]+)[@/]([^_]+)/.exec(plain) ?? []
    if (name) yield [name, version] as const
  }
}

function* readPackageList(text: string) {
  for (const { name, version } of zPackageList.parse(parseToml(text)).package) yield [name, version] as const
}

function* readPipfile(text: string) {
  const file = zPipfile.parse(JSON.parse(text))
  for (const [name, { version }] of [...Object.entries(file.default), ...Object.entries(file.develop)])
    yield [name, version?.replace(/^==/, '')] as const
}

/** Of a list of requirements only what is pinned to a version is locked. */
function* readPins(text: string) {
  for (const line of text.split('\n')) {
    const [, name, version] = /^\s*([A-Za-z0-9][\w.-]*)\s*(?:\[[^\]]*\])?\s*===?\s*([^\s;#\\]+)/.exec(line) ?? []
    if (name) yield [name.toLowerCase(), version] as const
  }
}

/** The versions that a module asks for, its own and those behind them, in force since all are listed (Go 1.17). */
function* readGoMod(text: string) {
  if (!/^module\s/m.test(text)) throw new Error('no module of Go')
  let isInBlock = false
  for (const line of text.split('\n')) {
    if (/^require\s*\(\s*$/.test(line)) isInBlock = true
    else if (/^\)/.test(line)) isInBlock = false
    const [, name, version] = /^(?:require\s+|\s+)([\w.~/-]+)\s+(v[^\s/]+)/.exec(line) ?? []
    if (name && (isInBlock || line.startsWith('require'))) yield [name, version] as const
  }
}

function* readComposer(text: string) {
  const file = zComposer.parse(JSON.parse(text))
  for (const { name, version } of [...file.packages, ...file['packages-dev']]) yield [name, version?.replace(/^v(?=\d)/, '')] as const
}

/** Below `specs:` each gem stands at four blanks with its version in brackets; what it asks for stands deeper. */
function* readGemfile(text: string) {
  if (!/^(?:GEM|PATH|GIT|DEPENDENCIES)\s*$/m.test(text)) throw new Error('no lock file of Bundler')
  for (const line of text.split('\n')) {
    const [, name, version] = /^ {4}([^\s(]+) \(([^()\s]+)\)\s*$/.exec(line) ?? []
    if (name) yield [name, version] as const
  }
}

function* readNuget(text: string) {
  for (const packages of Object.values(zNuget.parse(JSON.parse(text)).dependencies))
    for (const [name, { resolved }] of Object.entries(packages)) yield [name, resolved] as const
}

function* readGradle(text: string) {
  for (const line of text.split('\n')) {
    const [, group, name, version] = /^([\w.-]+):([\w.-]+):([^=\s:]+)=/.exec(line) ?? []
    if (group) yield [`${group}/${name}`, version] as const
  }
}

function* readPub(text: string) {
  for (const [name, { version }] of Object.entries(zPub.parse(plainYaml(text)).packages)) yield [name, version] as const
}

/** YAML as plain values; references within it are not followed, so that nothing grows. */
function plainYaml(text: string): unknown {
  const document = parseDocument(text, { version: '1.2', schema: 'failsafe', merge: false, prettyErrors: false })
  if (document.errors[0]) throw document.errors[0]
  return document.toJS({ maxAliasCount: 0 })
}
