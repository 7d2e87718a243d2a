// Who may import whom, read from the sources, imports of types included (docs/architecture.md draws the same).
// usage: node scripts/rooms.mjs [--figures]; prints each wrong arrow and exits 1 when there is one. --figures prints files and lines by
// room.
import { readdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative } from 'node:path'
import { fileURLToPath } from 'node:url'

const ROOT = join(dirname(fileURLToPath(import.meta.url)), '..')
const PACKAGES = {
  core: 'packages/core',
  server: 'packages/server',
  web: 'packages/web',
  cli: 'packages/cli',
  standins: 'packages/standins',
  bench: 'packages/bench',
  demo: 'packages/demo',
  e2e: 'e2e',
}
/** What each package may import of ours. */
const MAY_IMPORT = {
  core: [],
  server: ['core'],
  web: ['core'],
  cli: ['core'],
  standins: ['core'],
  bench: ['core', 'server'],
  demo: ['core', 'server'],
  e2e: ['core'],
}
/**
 * Subjects of core, lowest first: each imports only those before it. A new one, or another place in the row, is a decision
 * (docs/decisions).
 */
export const CORE_FLOORS = [
  'basics text people ladder code traces setup filter',
  'records likeness board looking inbox routing talk hand',
  'dependencies requirements glossary agreements places releases maintenance trains findings reviews merging items faults builds quality build-logs build-files build-machines bisecting files whole-change ties cases exploring trends triage incidents projects',
  'incoming imports threads desk undo past audits contract',
]
/** Subjects of the server, lowest first. */
export const SERVER_FLOORS = [
  'audit people',
  'setup',
  'records',
  'git code likeness looking telemetry occurrences inbox routing',
  'talk hand ladder requirements glossary agreements places releases findings reviews merging maintenance trains incidents',
  'items intake faults dependencies',
  'quality builds build-logs build-files build-machines bisecting files whole-change ties cases exploring trends triage projects',
  'sync incoming imports threads desk undo past audits',
]
/** Inside a subject of the server, by the end of a file's name: routes above commands and views above everything else. */
const LAYERS = [/\.(?:routes|middleware)\.ts$/, /\.commands\.ts$|\.views\.ts$/, /./]
/** Files of a web feature that other features may import beside its index: reading another subject's data must not load its panes. */
const PUBLIC_OF_FEATURE = /^(?:index\.tsx?|[\w-]+\.(?:api|live|words)\.ts)$/
/** A room with more than this is two rooms, unless it stands here with the reason. */
const ROOM_MAX = { files: 25, lines: 3000 }
/** Characters of a line at most. */
const LINE_MAX = 140
const LARGE_ROOMS = {
  'core/traces': 'one file for each way in which a runtime prints stack traces; each is alone',
}

const orderOf = (floors) => new Map(floors.flatMap((floor) => floor.split(' ')).map((name, at) => [name, at]))
const CORE = orderOf(CORE_FLOORS)
const SERVER = orderOf(SERVER_FLOORS)

/** Reads every source file of ours: path from the root to text. */
export function readSources(root = ROOT) {
  const sources = new Map()
  const walk = (dir) => {
    for (const entry of readdirSync(join(root, dir), { withFileTypes: true })) {
      const path = join(dir, entry.name)
      if (entry.isDirectory()) {
        if (entry.name !== 'node_modules' && entry.name !== 'dist') walk(path)
      } else if (/\.(?:tsx?|css)$/.test(entry.name)) sources.set(path, readFileSync(join(root, path), 'utf8'))
    }
  }
  for (const place of Object.values(PACKAGES)) {
    try {
      walk(join(place, 'src'))
    } catch (error) {
      if (error.code !== 'ENOENT') throw error
    }
  }
  return sources
}

/** Every module that a text imports, types too. */
export function importsOf(text) {
  return [...text.matchAll(/^(?:import|export)\s[^'"]*?from\s+'([^']+)'|^import\s+'([^']+)'|\bimport\(\s*'([^']+)'\s*\)/gms)].map(
    (match) => match[1] ?? match[2] ?? match[3],
  )
}

function packageOf(file) {
  return Object.keys(PACKAGES).find((name) => file.startsWith(`${PACKAGES[name]}/`))
}

function resolve(from, spec, sources) {
  const own = `${PACKAGES[packageOf(from)]}/src`
  let base
  if (spec.startsWith('.')) base = join(dirname(from), spec)
  else if (spec.startsWith('#')) base = join(own, spec.slice(1))
  else if (spec.startsWith('@dystracer/')) {
    const [, name, ...rest] = spec.split('/')
    base = join(PACKAGES[name] ?? name, 'src', ...rest)
  } else return null
  base = base.replace(/\.js$/, '')
  return (
    [base, `${base}.ts`, `${base}.tsx`, `${base}/index.ts`, `${base}/index.tsx`].find((path) => sources.has(path)) ??
    `${base} (nothing there)`
  )
}

const isTest = (file) => /\.test\.tsx?$|\/test\//.test(file)

/** Each wrong arrow as a sentence; an empty list means that the house is in order. */
export function findTrouble(sources) {
  const trouble = []
  const arrows = new Map()
  for (const [file, text] of sources) {
    const targets = []
    for (const spec of importsOf(text)) {
      if (spec.startsWith('../../')) trouble.push(`${file}: "${spec}" climbs; name the module by its place (#…)`)
      const target = resolve(file, spec, sources)
      if (target === null) {
        const wrong = wrongPackage(file, spec)
        if (wrong) trouble.push(`${file}: ${wrong}`)
        continue
      }
      if (target.endsWith('(nothing there)')) {
        trouble.push(`${file}: "${spec}" leads nowhere`)
        continue
      }
      if (target !== file) targets.push(target)
      if (!isTest(file)) {
        const wrong = wrongArrow(file, target)
        if (wrong) trouble.push(`${file} → ${target}: ${wrong}`)
      }
    }
    arrows.set(file, targets)
  }
  return [...trouble, ...findCircles(arrows), ...findLargeRooms(sources), ...findUndescribed(sources), ...findLongLines(sources)]
}

/** Lines that a reader would have to scroll sideways for; a text that must not break is joined of pieces. */
function findLongLines(sources) {
  return [...sources].flatMap(([file, text]) =>
    text
      .split('\n')
      .flatMap((line, at) => (line.length > LINE_MAX ? [`${file}:${at + 1}: ${line.length} characters, ${LINE_MAX} at most`] : [])),
  )
}

/** Exports of core that no docstring describes; a type inferred from a schema is described by the schema. */
function findUndescribed(sources) {
  const trouble = []
  for (const [file, text] of sources) {
    if (packageOf(file) !== 'core' || isTest(file)) continue
    const lines = text.split('\n')
    lines.forEach((line, at) => {
      const name = /^export (?:async )?(?:const|function\*?|type|interface|class|abstract class) (\w+)/.exec(line)?.[1]
      if (!name || /= z\.(?:infer|input|output)</.test(line) || lines[at - 1]?.trim().endsWith('*/')) return
      trouble.push(`${file}:${at + 1}: ${name} is exported and described nowhere`)
    })
  }
  return trouble
}

function wrongPackage(file, spec) {
  if (packageOf(file) === 'core' && !isTest(file) && /^node:/.test(spec)) return `core is pure; "${spec}" is not`
  return null
}

function wrongArrow(from, to) {
  const [a, b] = [packageOf(from), packageOf(to)]
  if (a !== b)
    return MAY_IMPORT[a].includes(b) ? (b === 'server' || b === 'core' ? null : `${a} may not import ${b}`) : `${a} may not import ${b}`
  const [x, y] = [relative(`${PACKAGES[a]}/src`, from).split('/'), relative(`${PACKAGES[a]}/src`, to).split('/')]
  if (a === 'core') return wrongFloor(CORE, x[0], y[0])
  if (a === 'server') return wrongInServer(x, y)
  if (a === 'web') return wrongInWeb(x, y)
  return null
}

function wrongFloor(order, from, to) {
  if (from === to) return null
  for (const name of [from, to]) if (!order.has(name)) return `"${name}" has no floor`
  return order.get(to) < order.get(from) ? null : `"${to}" does not lie below "${from}"`
}

function wrongInServer(from, to) {
  if (from[0] === 'platform') return to[0] === 'platform' ? null : 'the platform knows no subject'
  if (from[0] !== 'subjects') return null
  if (to[0] === 'platform') return null
  if (to[0] !== 'subjects') return 'a subject does not know what is composed of it'
  if (from[1] !== to[1]) {
    if (to[2] !== 'index.ts') return `another subject is reached through its index`
    return wrongFloor(SERVER, from[1], to[1])
  }
  if (from[2] === 'index.ts') return null
  if (to[2] === 'index.ts') return 'a subject does not import its own index'
  const layer = (name) => LAYERS.findIndex((pattern) => pattern.test(name))
  return layer(from.at(-1)) <= layer(to.at(-1)) ? null : 'a lower layer imports a higher one'
}

function wrongInWeb(from, to) {
  const order = { shared: 0, features: 1, app: 2 }
  const [a, b] = [order[from[0]] ?? 3, order[to[0]] ?? 3]
  if (b > a) return `${from[0]} may not import ${to[0]}`
  if (from[0] === 'features' && to[0] === 'features' && from[1] !== to[1] && !PUBLIC_OF_FEATURE.test(to.slice(2).join('/')))
    return 'another feature is reached through its index'
  return null
}

/** Circles of files, by Tarjan's strongly connected components (SIAM J. Comput. 1972), in time linear to the arrows. */
function findCircles(arrows) {
  const index = new Map()
  const low = new Map()
  const stack = []
  const circles = []
  const visit = (file) => {
    index.set(file, index.size)
    low.set(file, index.get(file))
    stack.push(file)
    for (const target of arrows.get(file) ?? []) {
      if (!index.has(target)) {
        visit(target)
        low.set(file, Math.min(low.get(file), low.get(target)))
      } else if (stack.includes(target)) low.set(file, Math.min(low.get(file), index.get(target)))
    }
    if (low.get(file) !== index.get(file)) return
    const component = stack.splice(stack.indexOf(file))
    if (component.length > 1) circles.push(`a circle: ${component.sort().join(', ')}`)
  }
  for (const file of arrows.keys()) if (!index.has(file)) visit(file)
  return circles
}

/** Rooms (subjects, features) with their files and lines, tests left out. */
export function measureRooms(sources) {
  const rooms = new Map()
  for (const [file, text] of sources) {
    if (isTest(file)) continue
    const name = packageOf(file)
    const parts = relative(`${PACKAGES[name]}/src`, file).split('/')
    const depth = name === 'server' || name === 'web' ? 2 : 1
    if (parts.length <= depth) continue
    const room = [name, ...parts.slice(depth - 1, depth)].join('/')
    const known = rooms.get(room) ?? { files: 0, lines: 0 }
    rooms.set(room, { files: known.files + 1, lines: known.lines + text.split('\n').length })
  }
  return rooms
}

function findLargeRooms(sources) {
  return [...measureRooms(sources)]
    .filter(([room, { files, lines }]) => !(room in LARGE_ROOMS) && (files > ROOM_MAX.files || lines > ROOM_MAX.lines))
    .map(([room, { files, lines }]) => `${room} has ${files} files and ${lines} lines: it is two rooms`)
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const sources = readSources()
  if (process.argv.includes('--figures'))
    for (const [room, { files, lines }] of [...measureRooms(sources)].sort())
      console.log(`${room.padEnd(28)} ${String(files).padStart(3)} files ${String(lines).padStart(6)} lines`)
  const trouble = findTrouble(sources)
  for (const line of trouble) console.log(line)
  console.log(trouble.length === 0 ? `${sources.size} files, every arrow is right` : `${trouble.length} wrong arrows`)
  process.exit(trouble.length === 0 ? 0 : 1)
}
