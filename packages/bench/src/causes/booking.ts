import type { PlantedProgram } from './planted-program.js'

export const BOOKING: PlantedProgram = {
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
