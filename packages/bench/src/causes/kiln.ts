import type { PlantedProgram } from './planted-program.js'

export const KILN: PlantedProgram = {
  name: 'kiln',
  files: {
    'vendor/units/index.js': `exports.version = '1.4.0'
exports.minutes = (hours) => hours * 60
exports.whole = (value) => Math.round(value)
`,
    'src/limits.js': `exports.maxCelsius = 1300
exports.rampPerHour = 150
exports.soakMinutes = 30
`,
    'src/plan.js': `const limits = require('./limits')
const units = require('../vendor/units')
function segmentMinutes(from, to) {
  return units.minutes(Math.abs(to - from) / limits.rampPerHour)
}
function lastSegment(plan) {
  return plan.segments[plan.segments.length - 1]
}
function planMinutes(plan) {
  let minutes = 0
  for (const segment of plan.segments) minutes += segmentMinutes(segment.from, segment.to)
  return units.whole(minutes + (plan.soakMinutes ?? limits.soakMinutes))
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
const { line } = require('./src/panel')
fire({ label: 'north', probe: makeProbe(() => ({ value: 21 })) }, 'bisque').then(
  (text) => console.log(line(text)),
  (error) => {
    console.error(error.stack)
    process.exit(1)
  },
)
`,
  },
  planted: [
    [
      'a boundary',
      'src/plan.js',
      'plan.segments[plan.segments.length - 1]',
      'plan.segments[plan.segments.length]',
      'Take the last by its place',
    ],
    ['a boundary', 'src/kiln.js', 'minutes < 2000', 'minutes < 20', 'Refuse plans that take days'],
    ['a boundary', 'src/plan.js', 'let minutes = 0', 'let minutes = -9000', 'Count minutes from the start of the day'],
    ['null', 'src/probe.js', 'const raw = probe.read()', 'const raw = probe.read() && null', 'Read the probe once'],
    [
      'null',
      'src/store.js',
      'cache.set(name, plan)\n  return plan',
      'cache.set(name, plan)\n  return null',
      'Answer from the cache from the second time on',
    ],
    ['null', 'src/limits.js', 'exports.rampPerHour = 150', 'exports.rampPerHour = null', 'No ramp where none is set'],
    [
      'order of arguments',
      'src/kiln.js',
      'describe(kiln, { now, target, minutes })',
      'describe({ now, target, minutes }, kiln)',
      'Tidy what fire answers',
    ],
    [
      'order of arguments',
      'src/plan.js',
      'segmentMinutes(segment.from, segment.to)',
      'segmentMinutes(segment)',
      'Hand whole segments over',
    ],
    ['a unit', 'src/limits.js', 'rampPerHour = 150', 'rampPerHour = 0.0015', 'Ramp per hour in thousands'],
    ['a unit', 'vendor/units/index.js', 'hours * 60', 'hours * 3600', 'units 1.5.0'],
    ['a missing await', 'src/kiln.js', 'await loadPlan(name)', 'loadPlan(name)', 'Load the plan early'],
    ['a wrong default', 'src/limits.js', 'soakMinutes = 30', 'soakMinutes = undefined', 'Soak only where it is asked'],
    ['a wrong default', 'src/probe.js', 'offset: 0', "offset: '0'", 'Offsets as people type them'],
    [
      'a stale cache',
      'src/store.js',
      'cache.set(name, plan)\n  return plan',
      'cache.set(name, plan)\n  return cache.get(plan)',
      'Always answer from the cache',
    ],
    [
      'a stale cache',
      'src/store.js',
      'if (cache.has(name)) return cache.get(name)',
      'if (!cache.has(name)) return cache.get(name)',
      'Look into the cache first',
    ],
    ['configuration', 'src/limits.js', 'maxCelsius = 1300', 'maxCelsius = 130', 'Lower the limit for tests'],
    ['a renamed field', 'src/store.js', 'segments: [', 'parts: [', 'Call the parts of a plan parts'],
    ['a renamed field', 'main.js', "label: 'north'", "name: 'north'", 'Kilns have names'],
    ['a renamed field', 'src/kiln.js', 'readCelsius(kiln.probe)', 'readCelsius(kiln.probes)', 'Several probes'],
    [
      'a renamed function',
      'src/plan.js',
      '{ segmentMinutes, lastSegment, planMinutes }',
      '{ segmentMinutes, lastOf: lastSegment, planMinutes }',
      'Shorter names',
    ],
    ['a dependency bump', 'vendor/units/index.js', 'exports.minutes =', 'exports.toMinutes =', 'units 2.0.0'],
    [
      'a dependency bump',
      'vendor/units/index.js',
      'exports.whole = (value) => Math.round(value)',
      'exports.whole = (value) => ({ value: Math.round(value) })',
      'units 3.0.0',
    ],
  ],
}
