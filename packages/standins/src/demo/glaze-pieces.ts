import type { Piece } from './piece.js'

/** What glaze-lab is made of. */
export const glazePieces: Piece[] = [
  {
    type: 'story',
    title: 'Scale a recipe to a batch',
    requirement: 'GLZ-2',
    module: 'batch',
    name: 'scaleBatch',
    code:
      'function scaleBatch(parts, grams) {\n  const total = parts.reduce((sum, part) => sum + part, 0)\n' +
      '  return parts.map((part) => (part / total) * grams)\n}',
    test: 'assert.deepEqual(scaleBatch([50, 50], 1000), [500, 500])',
  },
  {
    type: 'defect',
    title: 'Scaled batch does not add up after rounding',
    requirement: 'GLZ-2',
    module: 'batch',
    name: 'roundBatch',
    code:
      'function roundBatch(grams) {\n  const floor = grams.map(Math.floor)\n' +
      '  let rest = Math.round(grams.reduce((sum, gram) => sum + gram, 0)) - floor.reduce((sum, gram) => sum + gram, 0)\n' +
      '  return floor.map((gram) => (rest-- > 0 ? gram + 1 : gram))\n}',
    test: 'assert.deepEqual(roundBatch([33.4, 33.3, 33.3]), [34, 33, 33])',
    slip: ['floor.map((gram) => (rest-- > 0 ? gram + 1 : gram))', 'floor'],
  },
  {
    type: 'story',
    title: 'Compute the unity formula',
    requirement: 'GLZ-3',
    module: 'formula',
    name: 'unity',
    code: 'function unity(fluxMoles, moles) {\n  return moles / fluxMoles\n}',
    test: 'assert.equal(unity(2, 4), 2)',
  },
  {
    type: 'story',
    title: 'Warn of lead and cadmium',
    requirement: 'GLZ-4',
    module: 'hazards',
    name: 'hazardsOf',
    code:
      "function hazardsOf(materials) {\n  return materials.filter((material) => ['lead bisilicate', 'cadmium " +
      "frit'].includes(material.name)).map((material) => material.name)\n}",
    test: "assert.deepEqual(hazardsOf([{ name: 'silica' }, { name: 'lead bisilicate' }]), ['lead bisilicate'])",
  },
  {
    type: 'defect',
    title: 'Warning is lost when a material is swapped',
    requirement: 'GLZ-4',
    module: 'hazards',
    name: 'swapMaterial',
    code:
      'function swapMaterial(recipe, from, to) {\n  const materials = recipe.materials.map((material) => ' +
      '(material.name === from ? to : material))\n  return { ...recipe, materials, hazards: hazardsOf(materials) }\n}',
    test: "assert.deepEqual(swapMaterial({ materials: [{ name: 'frit' }] }, 'frit', { name: 'cadmium frit' }).hazards, ['cadmium frit'])",
  },
  {
    type: 'story',
    title: 'Keep confidential recipes to their owners',
    requirement: 'GLZ-5',
    module: 'access',
    name: 'mayRead',
    code: 'function mayRead(recipe, member) {\n  return !recipe.confidential || recipe.owner === member\n}',
    test: "assert.equal(mayRead({ confidential: true, owner: 'a' }, 'b'), false)",
  },
  {
    type: 'story',
    title: 'Number the revisions of a recipe',
    requirement: 'GLZ-6',
    module: 'revisions',
    name: 'nextRevision',
    code: 'function nextRevision(revisions) {\n  return Math.max(0, ...revisions.map((revision) => revision.number)) + 1\n}',
    test: 'assert.equal(nextRevision([{ number: 3 }]), 4)',
  },
  {
    type: 'task',
    title: 'Look materials up by any of their names',
    requirement: 'GLZ-7',
    module: 'materials',
    name: 'findMaterial',
    code: 'function findMaterial(catalogue, name) {\n  return catalogue.find((material) => material.names.includes(name.toLowerCase()))\n}',
    test: "assert.equal(findMaterial([{ names: ['quartz', 'silica'] }], 'Silica').names[0], 'quartz')",
    slip: ['.toLowerCase()', ''],
  },
  {
    type: 'story',
    title: 'Read recipes from a spreadsheet',
    requirement: 'GLZ-8',
    module: 'bringing-in',
    name: 'readRow',
    code:
      "function readRow(line) {\n  const [name, grams] = line.split(';')\n" +
      "  return { name: name.trim(), grams: Number(grams.replace(',', '.')) }\n}",
    test: "assert.deepEqual(readRow('Quartz; 12,5'), { name: 'Quartz', grams: 12.5 })",
  },
  {
    type: 'defect',
    title: 'Search for cone 06 finds cone 6',
    requirement: 'GLZ-10',
    module: 'search',
    name: 'coneMatches',
    code: 'function coneMatches(recipe, cone) {\n  return recipe.cone === cone\n}',
    test: "assert.equal(coneMatches({ cone: '6' }, '06'), false)",
  },
  {
    type: 'story',
    title: 'Show photos of test tiles, newest first',
    requirement: 'GLZ-9',
    module: 'photos',
    name: 'sortPhotos',
    code: 'function sortPhotos(photos) {\n  return [...photos].sort((a, b) => b.takenMs - a.takenMs)\n}',
    test: 'assert.equal(sortPhotos([{ takenMs: 1 }, { takenMs: 2 }])[0].takenMs, 2)',
  },
]

export const glazeMain = `'use strict'
const http = require('node:http')
const { startTelemetry } = require('./telemetry')
const { scaleBatch } = require('./batch')

const telemetry = startTelemetry('glaze-lab')
const timer = setInterval(() => {
  telemetry.run('scale batch', { 'user.id': 'member-' + Math.floor(Math.random() * 40) }, () => scaleBatch([40, 30, 30], 2000))
}, 3000)
const server = http.createServer((request, response) => response.end('{}'))
server.listen(0, '127.0.0.1', () => console.log('listening ' + server.address().port))
function stop() {
  clearInterval(timer)
  server.close()
  telemetry.stop().finally(() => process.exit(0))
}
process.on('SIGTERM', stop)
// Whoever started this program holds its standard input open for as long as it should run.
process.stdin.on('end', stop).resume()
`
