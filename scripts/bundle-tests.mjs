// Puts the built tests of a package into few files (docs/decisions/028): Jest gives each test file modules of its own, and of some 1,400
// small ones the loading alone takes longer than most tests. Own code and packages that are made of many small modules are put together,
// shared parts once for all tests of a package; everything else is loaded as ever. usage: node scripts/bundle-tests.mjs; needs a build.
import { readdirSync, readFileSync, rmSync } from 'node:fs'
import { builtinModules } from 'node:module'
import { dirname, join, relative } from 'node:path'
import { pathToFileURL } from 'node:url'
import { rolldown } from 'rolldown'

const root = join(import.meta.dirname, '..')
/** What is written as CommonJS stays outside: Jest loads it as it is, and native parts must be found where they lie. */
const leaveCommonJs = {
  name: 'leave CommonJS',
  async resolveId(id, importer) {
    if (importer === undefined || /^(?:[./#]|@dystracer\/)/.test(id)) return null
    if (builtinModules.includes(id) || id.startsWith('node:')) return { id, external: true }
    const found = await this.resolve(id, importer, { skipSelf: true })
    return found && isModule(found.id) ? found : { id, external: true }
  },
}

const kinds = new Map()
function isModule(file) {
  if (/\.mjs$/.test(file)) return true
  if (!/\.js$/.test(file)) return false
  for (let folder = dirname(file); folder !== dirname(folder); folder = dirname(folder)) {
    if (!kinds.has(folder)) kinds.set(folder, kindOf(folder))
    const kind = kinds.get(folder)
    if (kind !== null) return kind === 'module'
  }
  return false
}

/** What the package that begins in a folder says of itself; null where none does. */
function kindOf(folder) {
  try {
    return JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8')).type ?? 'commonjs'
  } catch {
    return null
  }
}

/** What a module says of its own place stays true: it may start a thread, or read a file, that lies beside it. */
const keepPlaces = {
  name: 'keep places',
  transform(code, id) {
    if (!code.includes('import.meta.')) return null
    const url = JSON.stringify(pathToFileURL(id).href)
    const placed = code
      .replaceAll('import.meta.url', url)
      .replaceAll('import.meta.dirname', JSON.stringify(join(id, '..')))
      .replaceAll('import.meta.filename', JSON.stringify(id))
    return { code: placed, map: null }
  },
}

async function bundle(name, folder) {
  const from = join(root, 'packages', name, folder)
  const to = join(root, 'packages', name, '.tests')
  rmSync(to, { recursive: true, force: true })
  const tests = readdirSync(from, { recursive: true }).filter((file) => file.endsWith('.test.js'))
  if (tests.length === 0) return
  const bundled = await rolldown({
    input: Object.fromEntries(tests.map((test) => [test.replace(/\.js$/, ''), join(from, test)])),
    platform: 'node',
    plugins: [leaveCommonJs, keepPlaces],
    treeshake: false,
    // What is said of directives that mean nothing here is no trouble.
    checks: { moduleLevelDirective: false },
    logLevel: 'warn',
  })
  const { output } = await bundled.write({
    dir: to,
    format: 'esm',
    sourcemap: true,
    entryFileNames: '[name].js',
    chunkFileNames: 'shared/[name]-[hash].js',
  })
  await bundled.close()
  console.log(`${relative(root, to)}: ${tests.length} tests, ${output.length} files`)
}

for (const [name, folder] of [
  ['core', 'dist'],
  ['server', 'dist'],
  ['standins', 'dist'],
  ['web', 'dist/types'],
])
  await bundle(name, folder)
