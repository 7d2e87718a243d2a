import type { PlantedProgram } from './planted-program.js'

export const GLAZE: PlantedProgram = {
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
