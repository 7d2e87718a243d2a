/** A small program that runs without a fault, and edits each of which makes it throw. */
export interface PlantedProgram {
  name: string
  files: Readonly<Record<string, string>>
  /** [kind of edit, file, from, to, subject of its commit]. */
  planted: readonly (readonly [kind: string, file: string, from: string, to: string, subject: string])[]
}

const KILN: PlantedProgram = {
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

const BOOKING: PlantedProgram = {
  name: 'booking',
  files: {
    'vendor/days/index.js': `exports.version = '0.9.2'
exports.parse = (text) => {
  const [hour, minute] = text.split(':').map(Number)
  return hour * 60 + minute
}
exports.format = (minutes) => String(Math.floor(minutes / 60)).padStart(2, '0') + ':' + String(minutes % 60).padStart(2, '0')
`,
    'config.json': `{ "opens": "08:00", "closes": "20:00", "slotMinutes": 60, "kilns": ["north", "south"] }
`,
    'src/calendar.js': `const days = require('../vendor/days')
const config = require('../config.json')
function slotsOf() {
  const slots = []
  for (let at = days.parse(config.opens); at < days.parse(config.closes); at += config.slotMinutes) slots.push(at)
  return slots
}
function isWithin(slot) {
  return slot >= days.parse(config.opens) && slot < days.parse(config.closes)
}
module.exports = { slotsOf, isWithin }
`,
    'src/members.js': `const members = new Map([
  ['ana', { name: 'Ana', quota: 3, since: 2021 }],
  ['kit', { name: 'Kit', quota: 1, since: 2024 }],
])
function memberOf(id) {
  const member = members.get(id)
  if (!member) throw new Error('no member ' + id)
  return member
}
module.exports = { memberOf }
`,
    'src/prices.js': `const PER_SLOT = { low: 4, high: 9 }
function priceOf(slot, count) {
  const level = slot < 17 * 60 ? 'low' : 'high'
  return PER_SLOT[level] * count
}
function discount(member) {
  return member.since < 2022 ? 0.9 : 1
}
module.exports = { priceOf, discount }
`,
    'src/ledger.js': `const taken = new Map()
function keyOf(kiln, slot) {
  return kiln + '@' + slot
}
async function take(kiln, slot, id) {
  const key = keyOf(kiln, slot)
  if (taken.has(key)) throw new Error('taken: ' + key)
  taken.set(key, { id, slot })
  return taken.get(key)
}
function countOf(id) {
  return [...taken.values()].filter((entry) => entry.id === id).length
}
module.exports = { take, countOf, keyOf }
`,
    'src/book.js': `const days = require('../vendor/days')
const config = require('../config.json')
const { slotsOf, isWithin } = require('./calendar')
const { memberOf } = require('./members')
const { priceOf, discount } = require('./prices')
const ledger = require('./ledger')
async function book(id, from, count) {
  const member = memberOf(id)
  const start = days.parse(from)
  if (!isWithin(start)) throw new RangeError('closed at ' + from)
  const wanted = slotsOf().filter((slot) => slot >= start).slice(0, count)
  if (wanted.length < count) throw new RangeError('only ' + wanted.length + ' of ' + count + ' are free')
  for (const slot of wanted) await ledger.take(config.kilns[0], slot, id)
  if (ledger.countOf(id) > member.quota) throw new Error(member.name + ' is over the quota')
  const price = priceOf(wanted[0], wanted.length) * discount(member)
  if (!(price > 0 && price < 100)) throw new RangeError('a price of ' + price)
  return receipt(member, { from: wanted[0], price })
}
function receipt(member, { from, price }) {
  return member.name.padEnd(8) + days.format(from) + ' ' + price.toFixed(2)
}
module.exports = { book, receipt }
`,
    'src/mail.js': `exports.subject = (text) => 'Booked: ' + text
`,
    'main.js': `const { book } = require('./src/book')
const { subject } = require('./src/mail')
async function main() {
  console.log(subject(await book('ana', '09:00', 2)))
  console.log(subject(await book('kit', '18:00', 1)))
}
main().catch((error) => {
  console.error(error.stack)
  process.exit(1)
})
`,
  },
  planted: [
    [
      'a boundary',
      'src/calendar.js',
      'slot >= days.parse(config.opens) &&',
      'slot > days.parse(config.opens) + 60 &&',
      'The first slot is for cleaning',
    ],
    ['a boundary', 'src/book.js', 'ledger.countOf(id) > member.quota', 'ledger.countOf(id) >= member.quota - 1', 'Count the quota before'],
    ['a boundary', 'src/calendar.js', 'at += config.slotMinutes', 'at += config.slotMinutes * 6', 'Longer slots for large kilns'],
    ['null', 'src/members.js', 'return member\n', 'return member.quota > 2 ? member : null\n', 'Members on trial'],
    ['null', 'src/ledger.js', 'taken.set(key, { id, slot })', 'taken.set(key, null)', 'Forget who took it'],
    ['null', 'src/prices.js', 'return PER_SLOT[level] * count', 'return count > 1 ? PER_SLOT[level] * count : null', 'One slot is free'],
    [
      'order of arguments',
      'src/book.js',
      'ledger.take(config.kilns[0], slot, id)',
      'ledger.take(config.kilns[0], id, slot)',
      'Say first for whom',
    ],
    [
      'order of arguments',
      'src/book.js',
      'receipt(member, { from: wanted[0], price })',
      'receipt({ from: wanted[0], price }, member)',
      'The receipt begins with when',
    ],
    ['order of arguments', 'src/prices.js', 'function priceOf(slot, count)', 'function priceOf(count, slot, times)', 'Count first'],
    ['a unit', 'src/prices.js', 'PER_SLOT = { low: 4, high: 9 }', 'PER_SLOT = { low: 400, high: 900 }', 'Prices in cents'],
    ['a unit', 'config.json', '"slotMinutes": 60', '"slotMinutes": 3600', 'Slots in seconds'],
    ['a missing await', 'main.js', "await book('ana', '09:00', 2)", "book('ana', '09:00', 2).price.toFixed()", 'Tell prices in the mail'],
    [
      'a missing await',
      'src/book.js',
      'await ledger.take(config.kilns[0], slot, id)',
      '(ledger.take(config.kilns[0], slot, id)).id.trim()',
      'Check who took it',
    ],
    ['a wrong default', 'src/members.js', 'quota: 1', 'quota: 0', 'New members wait for their first month'],
    ['a wrong default', 'src/prices.js', "? 'low' : 'high'", "? 'low' : 'late'", 'A level for the evening'],
    [
      'a stale cache',
      'src/ledger.js',
      'const taken = new Map()',
      "const taken = new Map([['north@540', { id: 'old', slot: 540 }]])",
      'Keep what was taken yesterday',
    ],
    ['configuration', 'config.json', '"closes": "20:00"', '"closes": "10:00"', 'Winter hours'],
    ['configuration', 'config.json', '"opens": "08:00"', '"opens": "8"', 'Hours without minutes'],
    ['a renamed field', 'src/members.js', "name: 'Kit'", "called: 'Kit'", 'How members are called'],
    ['a renamed field', 'config.json', '"kilns":', '"ovens":', 'Ovens and kilns'],
    [
      'a renamed function',
      'src/ledger.js',
      'module.exports = { take, countOf, keyOf }',
      'module.exports = { take, count: countOf, keyOf }',
      'Shorter names in the ledger',
    ],
    [
      'a dependency bump',
      'vendor/days/index.js',
      'exports.format = (minutes) => String',
      'exports.show = (minutes) => String',
      'days 2.0.0',
    ],
    ['a dependency bump', 'vendor/days/index.js', 'return hour * 60 + minute', 'return { hour, minute }', 'days 3.0.0'],
  ],
}

const GLAZE: PlantedProgram = {
  name: 'glaze',
  files: {
    'vendor/table/index.js': `exports.version = '5.1.0'
exports.row = (cells) => cells.map((cell) => String(cell).padEnd(10)).join('')
exports.round = (value, places) => Number(value.toFixed(places))
`,
    'data/materials.json': `{
  "silica": { "oxides": { "SiO2": 1 }, "gramsPerMole": 60.1 },
  "whiting": { "oxides": { "CaO": 1 }, "gramsPerMole": 100.1 },
  "kaolin": { "oxides": { "Al2O3": 1, "SiO2": 2 }, "gramsPerMole": 258.2 }
}
`,
    'src/materials.js': `const materials = require('../data/materials.json')
function materialOf(name) {
  const found = materials[name.toLowerCase()]
  if (!found) throw new Error('unknown material ' + name)
  return found
}
module.exports = { materialOf }
`,
    'src/recipe.js': `function parse(text) {
  return text
    .split('\\n')
    .filter(Boolean)
    .map((line) => {
      const at = line.lastIndexOf(' ')
      return { material: line.slice(0, at), grams: Number(line.slice(at + 1)) }
    })
}
function totalOf(parts) {
  const total = parts.reduce((sum, part) => sum + part.grams, 0)
  if (!(total > 0)) throw new RangeError('a recipe of ' + total + ' grams')
  return total
}
module.exports = { parse, totalOf }
`,
    'src/scale.js': `const { totalOf } = require('./recipe')
const table = require('../vendor/table')
function scaled(parts, toGrams) {
  const factor = toGrams / totalOf(parts)
  const all = parts.map((part) => ({ ...part, grams: table.round(part.grams * factor, 1) }))
  const off = Math.abs(totalOf(all) - toGrams)
  if (off > 1) throw new RangeError('the batch is off by ' + off.toFixed(1) + ' grams')
  return all
}
module.exports = { scaled }
`,
    'src/oxides.js': `const { materialOf } = require('./materials')
function molesOf(parts) {
  const moles = {}
  for (const { material, grams } of parts) {
    const { oxides, gramsPerMole } = materialOf(material)
    for (const [oxide, count] of Object.entries(oxides)) moles[oxide] = (moles[oxide] ?? 0) + (grams / gramsPerMole) * count
  }
  return moles
}
function ratio(moles) {
  const value = moles.SiO2 / moles.Al2O3
  if (!Number.isFinite(value)) throw new RangeError('silica to alumina is ' + value)
  return value
}
module.exports = { molesOf, ratio }
`,
    'src/names.js': `const known = new Map()
function fullName(short) {
  if (known.has(short)) return known.get(short)
  const full = short === 'EPK' ? 'kaolin' : short
  known.set(short, full)
  return full
}
module.exports = { fullName }
`,
    'src/label.js': `const table = require('../vendor/table')
async function label(name, parts, value) {
  const lines = parts.map((part) => table.row([part.material, part.grams.toFixed(1)]))
  return [name.toUpperCase(), ...lines, 'ratio ' + value.toFixed(2)].join('\\n')
}
module.exports = { label }
`,
    'src/page.js': `exports.title = (text) => text.split('\\n')[0]
`,
    'main.js': `const { parse } = require('./src/recipe')
const { scaled } = require('./src/scale')
const { molesOf, ratio } = require('./src/oxides')
const { fullName } = require('./src/names')
const { label } = require('./src/label')
const { title } = require('./src/page')
async function main() {
  const parts = parse('Silica 30\\nWhiting 20\\nEPK 50\\n').map((part) => ({ ...part, material: fullName(part.material) }))
  const batch = scaled(parts, 5000)
  const text = await label('clear', batch, ratio(molesOf(batch)))
  console.log(title(text).trim(), text.length)
}
main().catch((error) => {
  console.error(error.stack)
  process.exit(1)
})
`,
  },
  planted: [
    ['a boundary', 'src/recipe.js', 'line.slice(at + 1)', 'line.slice(at + 4)', 'Amounts after the dash'],
    ['a boundary', 'src/scale.js', 'if (off > 1)', 'if (off >= 0)', 'Batches are exact'],
    ['a boundary', 'src/recipe.js', 'line.slice(0, at)', 'line.slice(1, at)', 'Cut the sign in front of a material'],
    ['null', 'src/materials.js', 'return found\n', 'return found.oxides.CaO ? null : found\n', 'Fluxes come from another table'],
    ['null', 'src/names.js', 'return full\n', 'return null\n', 'Names are looked up once'],
    [
      'null',
      'src/recipe.js',
      'return { material: line.slice(0, at), grams',
      "return line.startsWith('Whi') ? null : { material: line.slice(0, at), grams",
      'Leave whiting to the tables',
    ],
    [
      'order of arguments',
      'main.js',
      "label('clear', batch, ratio(molesOf(batch)))",
      "label(batch, 'clear', ratio(molesOf(batch)))",
      'Parts before names',
    ],
    ['order of arguments', 'src/scale.js', 'table.round(part.grams * factor, 1)', 'table.round(1, part.grams * factor)', 'Round to places'],
    ['order of arguments', 'src/scale.js', 'function scaled(parts, toGrams)', 'function scaled(toGrams, parts)', 'Say first how much'],
    ['a unit', 'src/scale.js', 'toGrams / totalOf(parts)', 'toGrams / 1000 / totalOf(parts)', 'Batches in kilograms'],
    ['a unit', 'data/materials.json', '"gramsPerMole": 258.2', '"gramsPerMole": "258.2 g"', 'Say the unit beside the number'],
    ['a missing await', 'main.js', "await label('clear'", "label('clear'", 'Labels are short'],
    [
      'a missing await',
      'src/label.js',
      'async function label(name, parts, value) {',
      'async function label(name, parts, value) {\n  parts = Promise.resolve(parts)',
      'Parts may come later',
    ],
    ['a wrong default', 'src/oxides.js', '(moles[oxide] ?? 0)', 'moles[oxide]', 'Every oxide is known'],
    ['a wrong default', 'src/names.js', ': short\n', ': undefined\n', 'Only short names are known'],
    ['a stale cache', 'src/names.js', 'const known = new Map()', "const known = new Map([['Whiting', 'chalk']])", 'Old names first'],
    [
      'a stale cache',
      'src/names.js',
      'known.set(short, full)\n  return full',
      'known.set(full, short)\n  return known.get(short).trim()',
      'Answer from what is known',
    ],
    ['configuration', 'data/materials.json', '"silica": {', '"flint": {', 'Call silica as potters do'],
    ['configuration', 'data/materials.json', '"Al2O3": 1, ', '', 'Alumina is measured apart'],
    ['a renamed field', 'data/materials.json', '"kaolin": { "oxides"', '"kaolin": { "parts"', 'Parts of a material'],
    ['a renamed field', 'src/recipe.js', 'grams: Number(', 'amount: Number(', 'Amounts of any unit'],
    [
      'a renamed function',
      'src/oxides.js',
      'module.exports = { molesOf, ratio }',
      'module.exports = { moles: molesOf, ratio }',
      'Shorter names of oxides',
    ],
    ['a dependency bump', 'vendor/table/index.js', 'exports.row = (cells) =>', 'exports.line = (cells) =>', 'table 6.0.0'],
    ['a dependency bump', 'vendor/table/index.js', 'Number(value.toFixed(places))', 'value.toFixed(places)', 'table 5.2.0'],
  ],
}

export const PLANTED_PROGRAMS: readonly PlantedProgram[] = [KILN, BOOKING, GLAZE]
