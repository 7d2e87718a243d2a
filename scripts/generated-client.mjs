// Makes a client of the API's description by a generator that knows nothing of Dystracer, checks its types strictly, and puts it where the
// tests of the server find it: they speak to the server through it. Made before the tests; made anew only when the description
// changed. usage: node scripts/generated-client.mjs; needs a build.
import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = join(import.meta.dirname, '..')
const folder = join(root, 'packages/server/dist/generated-client')
const at = (name) => join(folder, name)

export default async function makeGeneratedClient() {
  const { describeOperations } = await import('../packages/server/dist/platform/http/open-api.js')
  const { OPERATIONS, OUTSIDE_PATHS } = await import('../packages/core/dist/contract/operations.js')
  const description = JSON.stringify(describeOperations(OPERATIONS, OUTSIDE_PATHS))
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .update(description)
    .digest('hex')
  if (existsSync(at('made-of')) && readFileSync(at('made-of'), 'utf8') === lock) return
  mkdirSync(folder, { recursive: true })
  writeFileSync(at('openapi.json'), description)
  run('swagger-typescript-api', 'generate', '--path', at('openapi.json'), '--output', folder, '--name', 'client.ts', '--silent')
  // The generator tells the compiler to look away; ours is to look.
  writeFileSync(at('client.ts'), readFileSync(at('client.ts'), 'utf8').replace('// @ts-nocheck', ''))
  const strictly = ['--strict', '--target', 'es2023', '--module', 'esnext', '--moduleResolution', 'bundler', '--lib', 'es2023,dom']
  run('tsc', '--ignoreConfig', ...strictly, '--types', '', '--outDir', folder, at('client.ts'))
  renameSync(at('client.js'), at('client.mjs'))
  writeFileSync(at('made-of'), lock)
}

function run(program, ...args) {
  const { status, stdout, stderr } = spawnSync(join(root, 'node_modules/.bin', program), args, { encoding: 'utf8' })
  if (status !== 0) throw new Error(`${program} could not make a client of the description: ${stdout}${stderr}`)
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await makeGeneratedClient()
