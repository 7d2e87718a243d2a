import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { kindOf, outcomeOf, ownAdditions, zCdEvent } from './cd-event.js'
import { HOOK_EVENTS, placesOf, readHookMessage, textAt, zHookReading, type HookEvent, type HookReading } from './hook-reading.js'

const OF = { source: 'hook:builder', id: 'm-1', atMs: Date.parse('2026-11-24T09:00:00Z') }
const SHA = 'a'.repeat(40)
const reading = (given: object): HookReading => zHookReading.parse({ name: 'finished', tells: 'build-finished', ...given })
const at = (place: string, words: { from: string; to: string }[] = []) => ({ at: place, words })

/** What a made-up build service sends. */
const message = {
  event: 'job.done',
  job: {
    id: 1877,
    status: 'SUCCESS',
    ended: '2026-11-24T08:59:00Z',
    source: { repo: 'git.kilns.example/kiln', rev: SHA, ref: 'refs/heads/main' },
  },
  tags: ['nightly', 'a/b', 'c~d'],
}
const FIELDS = {
  repository: at('/job/source/repo'),
  build: at('/job/id'),
  outcome: at('/job/status', [{ from: 'success', to: 'passed' }]),
  commit: at('/job/source/rev'),
  branch: at('/job/source/ref'),
  at: at('/job/ended'),
}

describe('a message in a shape of its own', () => {
  test('is read by the first reading whose conditions it meets, and makes an event of the open specification', () => {
    const readings = [
      reading({ name: 'begun', tells: 'build-started', when: [{ at: '/event', is: 'same', text: 'job.begun' }], fields: FIELDS }),
      reading({
        when: [
          { at: '/event', is: 'same', text: 'JOB.done' },
          { at: '/job/id', is: 'there' },
        ],
        fields: FIELDS,
      }),
      reading({ name: 'any' }),
    ]
    const read = readHookMessage(message, readings, OF)
    if (read.kind !== 'event') throw new Error(read.kind)
    expect(read).toMatchObject({ reading: 'finished', values: { build: '1877', outcome: 'passed', branch: 'refs/heads/main' } })
    const event = zCdEvent.parse(read.event)
    expect(kindOf(event)).toEqual({ subject: 'pipelinerun', predicate: 'finished' })
    expect(outcomeOf(event)).toBe('passed')
    expect(event.context).toMatchObject({ id: 'm-1', source: 'hook:builder', timestamp: '2026-11-24T08:59:00.000Z' })
    expect(ownAdditions(event)).toMatchObject({ repository: 'git.kilns.example/kiln', build: '1877', commit: SHA, branch: 'main' })
  })

  test('lacks what its reading needs and it does not say, and belongs to none whose conditions it fails', () => {
    const { outcome: _left, ...others } = FIELDS
    expect(readHookMessage(message, [reading({ fields: others })], OF)).toMatchObject({ kind: 'lacks', lacks: ['outcome'] })
    expect(readHookMessage(message, [reading({ fields: { ...others, outcome: { text: 'broke' } } })], OF)).toMatchObject({
      kind: 'event',
      values: { outcome: 'broke' },
    })
    for (const when of [
      { at: '/event', is: 'other', text: 'job.done' },
      { at: '/nothing', is: 'there' },
      { at: '/job', is: 'there' },
    ])
      expect(readHookMessage(message, [reading({ when: [when], fields: FIELDS })], OF)).toEqual({ kind: 'none' })
  })

  test('tells a pull request whole, as merged, open or closed', () => {
    const change = {
      pr: {
        no: 7,
        name: 'Hold the relay',
        state: 'done',
        from: 'fix/relay',
        to: 'main',
        head: SHA,
        made: 1_732_000_000,
        moved: '1732000000123',
      },
      repo: 'kiln',
    }
    const fields = {
      repository: at('/repo'),
      number: at('/pr/no'),
      title: at('/pr/name'),
      state: at('/pr/state', [{ from: 'done', to: 'merged' }]),
      branch: at('/pr/from'),
      target: at('/pr/to'),
      commit: at('/pr/head'),
      opened: at('/pr/made'),
      changed: at('/pr/moved'),
    }
    const read = readHookMessage(change, [reading({ tells: 'pull-request', fields })], OF)
    if (read.kind !== 'event') throw new Error(read.kind)
    expect(kindOf(read.event)).toEqual({ subject: 'change', predicate: 'merged' })
    expect(read.event.customData).toEqual({
      repository: 'kiln',
      number: 7,
      title: 'Hold the relay',
      body: '',
      state: 'merged',
      author: '',
      head: 'fix/relay',
      base: 'main',
      headSha: SHA,
      mergeSha: null,
      createdAtMs: 1_732_000_000_000,
      updatedAtMs: 1_732_000_000_123,
      version: 1_732_000_000_123,
    })
  })

  test('gives nothing that stands in every object, and no object', () => {
    for (const place of ['/constructor/name', '/__proto__/x', '/job/source', '/tags', '/tags/length', '', '/job/id/0'])
      expect(textAt(message, place)).toBe('')
    expect(textAt(message, '/tags/1')).toBe('a/b')
    expect(textAt('text', '/0')).toBe('')
    expect(textAt(null, '/a')).toBe('')
  })
})

test('every place that a message has leads to what stands there', () => {
  fc.assert(
    fc.property(fc.jsonValue({ maxDepth: 4 }), (value) => {
      for (const { at: place, text } of placesOf(value)) expect(textAt(value, place)).toBe(text.slice(0, 100_000))
    }),
  )
})

test('any message and any readings give an answer, and an event that is well made', () => {
  const value = fc.record({ at: fc.constantFrom('/a', '/b/0', '/c~1d', ''), text: fc.constantFrom('', 'kiln', 'passed', '7') })
  const readings = fc.array(
    fc.record({ tells: fc.constantFrom(...(Object.keys(HOOK_EVENTS) as HookEvent[])), value }).map(({ tells, value: each }) =>
      reading({
        tells,
        fields: Object.fromEntries([...HOOK_EVENTS[tells].needs, ...HOOK_EVENTS[tells].may].map((field) => [field, each])),
      }),
    ),
    { maxLength: 3 },
  )
  fc.assert(
    fc.property(fc.oneof(fc.jsonValue(), fc.record({ a: fc.string(), b: fc.array(fc.nat()) })), readings, (sent, made) => {
      const read = readHookMessage(sent, made, OF)
      if (read.kind === 'event') expect(() => zCdEvent.parse(read.event)).not.toThrow()
      expect(read.kind === 'none').toBe(made.length === 0)
    }),
  )
})
