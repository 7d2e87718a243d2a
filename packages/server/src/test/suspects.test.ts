import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { findSuspects } from '#subjects/git/suspects'
import { TestRepository } from './app-harness.js'

/**
 * Faults planted by real edits into a small program with a history, each thrown by a real run: who is suspected first? A third of them lies
 * in another file than the one that fails.
 */
const FILES: Record<string, string> = {
  'src/limits.js': `exports.maxCelsius = 1300
exports.rampPerHour = 150
exports.soakMinutes = 30
`,
  'src/plan.js': `const limits = require('./limits')
function segmentMinutes(from, to) {
  return (Math.abs(to - from) / limits.rampPerHour) * 60
}
function lastSegment(plan) {
  return plan.segments[plan.segments.length - 1]
}
function planMinutes(plan) {
  let minutes = 0
  for (const segment of plan.segments) minutes += segmentMinutes(segment.from, segment.to)
  return minutes + (plan.soakMinutes ?? limits.soakMinutes)
}
module.exports = { segmentMinutes, lastSegment, planMinutes }
`,
  'src/probe.js': `function makeProbe(read) {
  return { read, offset: 0 }
}
function readCelsius(probe) {
  const raw = probe.read()
  return raw.value + probe.offset
}
module.exports = { makeProbe, readCelsius }
`,
  'src/store.js': `const cache = new Map()
async function loadPlan(name) {
  if (cache.has(name)) return cache.get(name)
  const plan = await fetchPlan(name)
  cache.set(name, plan)
  return plan
}
async function fetchPlan(name) {
  return { name, segments: [{ from: 20, to: 600 }, { from: 600, to: 1040 }] }
}
module.exports = { loadPlan, fetchPlan }
`,
  'src/kiln.js': `const { readCelsius } = require('./probe')
const { loadPlan } = require('./store')
const plan = require('./plan')
const limits = require('./limits')
async function fire(kiln, name) {
  const chosen = await loadPlan(name)
  const target = plan.lastSegment(chosen).to
  if (target > limits.maxCelsius) throw new Error('too hot: ' + target)
  const now = readCelsius(kiln.probe)
  const minutes = plan.planMinutes(chosen)
  if (!(minutes > 0 && minutes < 2000)) throw new RangeError('the plan takes ' + minutes + ' minutes')
  return describe(kiln, { now, target, minutes })
}
function describe(kiln, state) {
  return kiln.label.toUpperCase() + ' goes from ' + state.now.toFixed(0) + ' to ' + state.target.toFixed(0)
}
module.exports = { fire, describe }
`,
  'src/panel.js': `exports.line = (text) => text.slice(0, 40)
`,
  'main.js': `const { fire } = require('./src/kiln')
const { makeProbe } = require('./src/probe')
fire({ label: 'north', probe: makeProbe(() => ({ value: 21 })) }, 'bisque').then(console.log, (error) => {
  console.error(error.stack)
  process.exit(1)
})
`,
  'package.json': '{ "name": "kiln", "version": "1.0.0" }\n',
}

/** [kind of edit, file, from, to, subject]. */
const PLANTED: [string, string, string, string, string][] = [
  [
    'a boundary',
    'src/plan.js',
    'plan.segments[plan.segments.length - 1]',
    'plan.segments[plan.segments.length]',
    'Take the last segment by its place',
  ],
  ['null', 'src/probe.js', 'const raw = probe.read()', 'const raw = probe.read() && null', 'Read the probe once'],
  ['order of arguments', 'src/kiln.js', 'return describe(kiln, { now', 'return describe({ now', 'Tidy what fire answers'],
  ['a unit', 'src/limits.js', 'rampPerHour = 150', 'rampPerHour = 0.0015', 'Ramp per hour in thousands'],
  ['a missing await', 'src/kiln.js', 'await loadPlan(name)', 'loadPlan(name)', 'Load the plan early'],
  ['a wrong default', 'src/limits.js', 'soakMinutes = 30', 'soakMinutes = undefined', 'Soak only where it is asked'],
  [
    'a stale cache',
    'src/store.js',
    'cache.set(name, plan)\n  return plan',
    'cache.set(name, plan)\n  return cache.get(plan)',
    'Always answer from the cache',
  ],
  ['configuration', 'src/limits.js', 'maxCelsius = 1300', 'maxCelsius = 130', 'Lower the limit for tests'],
  ['a renamed field', 'src/store.js', 'segments: [', 'parts: [', 'Call the parts of a plan parts'],
]

const repos: TestRepository[] = []
afterAll(() => {
  for (const repo of repos) repo.remove()
})

/** A history with the planted edit somewhere in the middle of honest ones; the failing run's own words. */
function plant(
  [, file, from, to, subject]: (typeof PLANTED)[number],
  at: number,
): { dir: string; lastGood: string; firstBad: string; guilty: string; trace: string } {
  const repo = new TestRepository()
  repos.push(repo)
  const files = { ...FILES }
  let first = ''
  for (const [path, text] of Object.entries(files)) first = repo.commit(path, text, `Begin ${path}`)
  const edit = (path: string, change: (text: string) => string, message: string) => {
    files[path] = change(files[path] ?? '')
    return repo.commit(path, files[path] ?? '', message)
  }
  const honest: [string, (text: string) => string, string][] = [
    ['src/panel.js', (text) => text.replace('40', '38'), 'Leave room on the panel'],
    ['src/plan.js', (text) => `${text}// minutes are whole on the panel\n`, 'Say how minutes are shown'],
    ['package.json', (text) => text.replace('1.0.0', '1.0.1'), 'Raise the version'],
    ['src/kiln.js', (text) => text.replace("' goes from '", "' rises from '"), 'Say that it rises'],
    ['src/probe.js', (text) => `// a probe is read once a second\n${text}`, 'Say how often a probe is read'],
    ['src/limits.js', (text) => `${text}exports.minCelsius = 0\n`, 'Name the lowest temperature'],
    ['src/store.js', (text) => `// plans are kept by name\n${text}`, 'Say how plans are kept'],
    ['README.md', () => 'Kiln\n', 'Begin a readme'],
  ]
  let guilty = ''
  for (const [index, [path, change, message]] of honest.entries()) {
    if (index === at % honest.length) guilty = edit(file, (text) => text.replace(from, to), subject)
    edit(path, change, message)
  }
  const run = spawnSync(process.execPath, ['main.js'], { cwd: repo.dir, encoding: 'utf8' })
  expect([run.status, files[file]]).toEqual([1, expect.stringContaining(to)])
  return { dir: join(repo.dir, '.git'), lastGood: first, firstBad: repo.git('rev-parse', 'HEAD'), guilty, trace: run.stderr }
}

describe('who brought a failure in', () => {
  const ranks: { kind: string; rank: number }[] = []

  beforeAll(async () => {
    for (const [at, planted] of PLANTED.entries()) {
      const { dir, lastGood, firstBad, guilty, trace } = plant(planted, at * 3 + 1)
      const suspects = await findSuspects(dir, { lastGood, firstBad, message: trace, names: [] })
      expect(suspects).toHaveLength(9)
      ranks.push({ kind: planted[0], rank: suspects.findIndex(({ sha }) => sha === guilty) + 1 })
    }
  }, 120_000)

  test('stands among the first three for every kind of fault, and first for most', () => {
    expect(ranks.filter(({ rank }) => rank > 3)).toEqual([])
    expect(ranks.filter(({ rank }) => rank === 1).length).toBeGreaterThanOrEqual(Math.ceil(PLANTED.length * 0.7))
  })
})

test('where nothing came between good and bad nobody is suspected', async () => {
  const repo = new TestRepository()
  repos.push(repo)
  const sha = repo.commit('a.js', 'throw new Error("no")\n', 'Begin')
  expect(await findSuspects(join(repo.dir, '.git'), { lastGood: sha, firstBad: sha, message: 'Error: no', names: [] })).toEqual([])
})
