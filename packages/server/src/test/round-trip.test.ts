import { afterAll, beforeAll, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { verifyTables } from '#verify-tables'
import { startApp, until, type App, type Ask } from './app-harness.js'

/** What goes out as JSON Lines and comes in elsewhere is the same: held against items of every shape that people can make. */
let app: App
let teo: Ask
const OWN_FIELDS = [
  { fieldId: 'zone', name: 'Zone', kind: 'one-of', choices: ['door', 'back, left'] },
  { fieldId: 'parts', name: 'Parts', kind: 'several-of', choices: ['relay', 'probe', 'lid'] },
  { fieldId: 'amps', name: 'Amps', kind: 'number' },
  { fieldId: 'seen-on', name: 'Seen on', kind: 'date' },
  { fieldId: 'witness', name: 'Witness', kind: 'person' },
  { fieldId: 'note', name: 'Note', kind: 'text' },
]

async function aProject(prefix: string): Promise<void> {
  await teo('/projects', { method: 'POST', body: { name: `Project ${prefix}`, prefix, component: 'Kiln control' } })
  for (const field of OWN_FIELDS) {
    const { status } = await teo(`/projects/${prefix}/fields`, { method: 'PUT', body: field })
    expect(status).toBeLessThan(300)
  }
}
beforeAll(async () => {
  app = await startApp()
  teo = await app.asks('teo')
  await aProject('OUT')
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
})

const word = fc.stringMatching(/^[a-z][a-z0-9 ,;"'=<>&|\u00e9-]{0,14}[a-z]$/)
const prose = fc.array(fc.oneof(word, fc.constantFrom('', '- one', '**bold**', '`code`', '=1+1', '<b>x', '"quote"')), { maxLength: 4 })
const maybe = <Value>(value: fc.Arbitrary<Value>) => fc.option(value, { nil: null })
const day = fc.integer({ min: 0, max: 3000 }).map((days) => new Date(Date.UTC(2020, 0, 1 + days)).toISOString().slice(0, 10))
const item = fc.record({
  title: word,
  description: prose.map((lines) => lines.join('\n').trim()),
  type: fc.constantFrom('defect', 'story', 'task', 'epic'),
  severity: maybe(fc.integer({ min: 1, max: 5 })),
  priority: maybe(fc.constantFrom('urgent', 'high', 'normal', 'low')),
  ownerId: maybe(fc.constantFrom('ines', 'rafe', 'teo')),
  component: maybe(fc.constant('Kiln control')),
  milestone: maybe(fc.constantFrom('Spring', 'v4.2')),
  sprint: maybe(fc.constant('S 12')),
  labels: fc.uniqueArray(fc.constantFrom('sensor', 'panel', 'bill', 'two words'), { maxLength: 3 }),
  dueOn: maybe(day),
  points: maybe(fc.constantFrom(0, 0.5, 3, 13)),
  estimateMinutes: maybe(fc.integer({ min: 0, max: 9999 })),
  foundIn: maybe(fc.constant('4.1.3')),
  plannedFor: maybe(fc.constant('4.2.0')),
  ownValues: fc.record(
    {
      zone: fc.constantFrom('door', 'back, left'),
      parts: fc.uniqueArray(fc.constantFrom('relay', 'probe', 'lid'), { minLength: 1 }),
      amps: fc.double({ min: -1e6, max: 1e6, noNaN: true }).map((value) => Math.round(value * 100) / 100),
      'seen-on': day,
      witness: fc.constantFrom('ines', 'rafe'),
      note: word,
    },
    { requiredKeys: [] },
  ),
})
const world = fc.record({
  items: fc.array(item, { minLength: 1, maxLength: 4 }),
  comments: fc.array(
    fc.tuple(
      fc.nat(3),
      prose.map((lines) => lines.join('\n').trim()).filter((text) => text !== ''),
    ),
    { maxLength: 4 },
  ),
  links: fc.array(fc.tuple(fc.constantFrom('blocks', 'see-also'), fc.nat(3), fc.nat(3)), { maxLength: 4 }),
  parent: fc.boolean(),
  times: fc.array(fc.tuple(fc.nat(3), fc.integer({ min: 1, max: 600 })), { maxLength: 3 }),
  rejected: fc.option(fc.tuple(fc.nat(3), fc.constantFrom('works-as-required', 'will-not-fix', 'cannot-reproduce', 'deferred'))),
})

/** Makes the items by the API, as people do, and gives their keys. */
async function make(given: typeof world extends fc.Arbitrary<infer World> ? World : never): Promise<string[]> {
  const keys: string[] = []
  for (const each of given.items) {
    const { status, body } = await teo('/items', { method: 'POST', body: { ...each, project: 'OUT' } })
    expect([status, body.fields]).toEqual([201, undefined])
    keys.push(body.key)
  }
  const keyAt = (at: number) => keys[at % keys.length] as string
  for (const [at, text] of given.comments) await teo(`/items/${keyAt(at)}/comments`, { method: 'POST', body: { text } })
  for (const [kind, from, to] of given.links)
    await teo(`/items/${keyAt(from)}/links`, { method: 'POST', body: { kind, to: { kind: 'item', id: keyAt(to) } } })
  if (given.parent && keys.length > 1) await teo(`/items/${keyAt(1)}/parent`, { method: 'POST', body: { parent: keyAt(0) } })
  for (const [at, minutes] of given.times) await teo(`/items/${keyAt(at)}/time`, { method: 'POST', body: { minutes, on: '2026-03-02' } })
  if (given.rejected)
    await teo(`/items/${keyAt(given.rejected[0])}/reject`, { method: 'POST', body: { disposition: given.rejected[1], words: 'so it is' } })
  app.clock.nowMs += 3_600_000
  return keys
}

/** The lines of an export in the order in which the items were made. */
const exported = async (filter: string) =>
  (await teo(`/items.jsonl?filter=${encodeURIComponent(filter)}`)).text
    .split('\n')
    .filter(Boolean)
    .map((line) => JSON.parse(line) as Record<string, unknown>)
    .sort((a, b) => numberOf(a) - numberOf(b))
const numberOf = (line: Record<string, unknown>) => Number(String(line.key).split('-')[1])

let rounds = 0
/** Brings lines into a project of their own, as the dialog would: by the mapping that is guessed. */
async function bringIn(lines: readonly object[]): Promise<string> {
  const prefix = `IN${++rounds}`
  await aProject(prefix)
  const begun = await teo(`/projects/${prefix}/imports?name=out.jsonl`, {
    method: 'POST',
    raw: lines.map((line) => JSON.stringify(line)).join('\n'),
    headers: { 'content-type': 'application/octet-stream' },
  })
  expect(begun.status).toBe(201)
  const { importId, mapping } = begun.body
  await teo(`/imports/${importId}/run`, { method: 'POST', body: { mapping, isTrial: false } })
  let state = begun.body
  await until('the import is through', async () => {
    state = (await teo(`/imports/${importId}`)).body
    return !['trying', 'running'].includes(state.phase)
  })
  expect([state.phase, state.problems]).toEqual(['done', []])
  return prefix
}

const KEYED = ['key', 'parent', 'blocks', 'sameAs', 'seeAlso'] as const
/** A line with the keys of one project in place of another's. */
function withKeys(line: Record<string, unknown>, keyOf: ReadonlyMap<string, string>): Record<string, unknown> {
  const swap = (value: unknown): unknown =>
    Array.isArray(value) ? value.map(swap).sort() : typeof value === 'string' ? (keyOf.get(value) ?? value) : value
  return { ...line, ...Object.fromEntries(KEYED.map((name) => [name, swap(line[name])])) }
}

test('items that go out and come in elsewhere are the same: fields, own fields, ties, comments, time and times', async () => {
  await fc.assert(
    fc.asyncProperty(world, async (given) => {
      const keys = await make(given)
      const out = await exported(keys.map((key) => `key=${key}`).join(' or '))
      expect(out).toHaveLength(keys.length)
      const prefix = await bringIn(out)
      const back = await exported(`project=${prefix}`)
      expect(back).toHaveLength(keys.length)
      // Both stand in the order in which they were made.
      const keyOf = new Map(out.map((line, at) => [String(line.key), String(back[at]?.key)]))
      expect(back.map((line) => withKeys(line, new Map()))).toEqual(out.map((line) => withKeys(line, keyOf)))
    }),
    { numRuns: 12, endOnFailure: false },
  )
}, 120_000)
