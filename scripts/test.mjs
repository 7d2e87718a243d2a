// Runs every check and test: formatting and lint, types, rooms, unit and server tests, journeys in a real browser.
// usage: node scripts/test.mjs [--only lint|types|rooms|unit|e2e]; exits 1 when anything failed; ends with "N passed, N failed".
import { spawn } from 'node:child_process'
import { accessSync, constants, existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

const only = process.argv.includes('--only') ? process.argv[process.argv.indexOf('--only') + 1] : null
// Tests open and close many databases: in memory they do not wait for a slow disk's syncs.
const scratch = scratchFolder()
if (scratch) process.env.TMPDIR = scratch
let passed = 0
let failed = 0

function scratchFolder() {
  try {
    accessSync('/dev/shm', constants.W_OK)
    const folder = `/dev/shm/dystracer-test-${process.pid}`
    mkdirSync(folder)
    return folder
  } catch (error) {
    if (error.code === 'ENOENT' || error.code === 'EACCES') return null
    throw error
  }
}

/** Runs a program to its end; whether it went well. What it says is passed on, at once or, where others speak meanwhile, at its end. */
function run(command, args, { env = {}, isAside = false } = {}) {
  return new Promise((resolve) => {
    const child = spawn(command, args, {
      stdio: ['ignore', isAside ? 'pipe' : 'inherit', isAside ? 'pipe' : 'inherit'],
      env: { ...process.env, ...env },
    })
    const said = []
    for (const stream of [child.stdout, child.stderr]) stream?.on('data', (chunk) => said.push(chunk))
    const end = (isWell) => {
      process.stdout.write(Buffer.concat(said))
      resolve(isWell)
    }
    child.on('error', (error) => {
      said.push(Buffer.from(`${command}: ${error.message}\n`))
      end(false)
    })
    child.on('close', (code) => end(code === 0))
  })
}

/** A check counts as one. */
async function check(name, label, command, args) {
  if (only && only !== name) return
  console.log(`\n== ${label}`)
  if (await run(command, args)) passed++
  else {
    failed++
    console.log(`FAILED: ${label}`)
  }
}

/** Each test of a Jest run counts. */
async function jest(name, label, config) {
  if (only && only !== name) return
  console.log(`\n== ${label}`)
  const out = join(tmpdir(), `dystracer-jest-${process.pid}-${name}.json`)
  const isGreen = await run(process.execPath, [
    '--experimental-vm-modules',
    '--no-warnings',
    // What a test file leaves behind is much and young: with more room for it, less of it is copied before it is dropped.
    '--max-semi-space-size=64',
    'node_modules/jest/bin/jest.js',
    '-c',
    config,
    '--json',
    `--outputFile=${out}`,
  ])
  const result = existsSync(out) ? JSON.parse(readFileSync(out, 'utf8')) : null
  rmSync(out, { force: true })
  if (!result || (result.numFailedTests === 0 && result.numTotalTests === 0)) {
    failed++
    return
  }
  passed += result.numPassedTests
  failed += result.numFailedTests + result.numRuntimeErrorTestSuites
  if (!isGreen && result.numFailedTests + result.numRuntimeErrorTestSuites === 0) failed++
}

/** What tests drive that is no package of npm: Debian's browser, and its ssh server for repositories by ssh. */
async function installPrograms() {
  const missing = [
    ['/usr/bin/chromium-headless-shell', 'chromium-headless-shell'],
    ['/usr/sbin/sshd', 'openssh-server'],
    ['/usr/bin/ssh-keygen', 'openssh-client'],
  ].filter(([path]) => !existsSync(path))
  if (missing.length === 0) return
  const names = missing.map(([, name]) => name)
  console.log(`Installing from Debian, meanwhile: ${names.join(', ')} …`)
  const sudo = process.getuid?.() === 0 ? [] : ['sudo', '-n']
  const apt = (...args) =>
    run(sudo[0] ?? 'apt-get', [...sudo.slice(1), ...(sudo.length > 0 ? ['apt-get'] : []), ...args], {
      env: { DEBIAN_FRONTEND: 'noninteractive' },
      isAside: true,
    })
  await apt('update', '-qq')
  await apt('install', '-y', '-qq', '--no-install-recommends', ...names)
}

// Tests run on built output: what was built from files that are gone must not stay.
if (!only)
  for (const place of [
    'packages/core',
    'packages/server',
    'packages/cli',
    'packages/standins',
    'packages/bench',
    'packages/demo',
    'packages/web',
    'e2e',
  ])
    for (const name of ['dist', '.tests', 'tsconfig.tsbuildinfo']) rmSync(join(place, name), { recursive: true, force: true })
const needsPrograms = !only || only === 'unit' || only === 'e2e'
// What is compiled and what Debian installs is waited for by the tests alone: the checks go on beside them.
const preparing = needsPrograms ? Promise.all([run('./dystracer', ['compile'], { isAside: true }), installPrograms()]) : null
await check('lint', 'formatting and lint', 'npx', ['--no-install', 'biome', 'check', '--diagnostic-level=error', '.'])
await check('types', 'types and build', 'npm', ['run', '--silent', 'build'])
await check('rooms', 'rooms: who may import whom', 'npm', ['run', '--silent', 'rooms'])
if (!only) {
  // Both need no more than a build, and what is compiled takes longer.
  await check('bundle', 'tests put into few files', 'node', ['scripts/bundle-tests.mjs'])
  await check('client', 'a client made of the description', 'node', ['scripts/generated-client.mjs'])
  process.env.DYSTRACER_BUNDLED_TESTS = '1'
}
const [isCompiled] = (await preparing) ?? [true]
if (!isCompiled) {
  failed++
  console.log('FAILED: compiling better-sqlite3')
}
await jest('unit', 'core, server, stand-ins, modules of the interface', 'jest.config.mjs')
await jest('e2e', 'journeys in a real browser', 'jest.e2e.config.mjs')
if (scratch) rmSync(scratch, { recursive: true, force: true })
console.log(`\n${passed} passed, ${failed} failed`)
process.exit(failed === 0 ? 0 : 1)
