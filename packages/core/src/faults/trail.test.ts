import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { TRAIL_DEPTH_MAX, trailOf, type TrailStep } from './trail.js'

const step = (given: Partial<TrailStep> & { mark: string }): TrailStep => ({
  kind: 'span',
  service: 'planner',
  parent: null,
  atMs: 0,
  endMs: null,
  severityNumber: 0,
  name: given.mark,
  detail: '',
  ...given,
})

test('a request reads from outside in, each span with what was done and written in it, in time', () => {
  const trail = trailOf(
    [
      step({ mark: 'query', parent: 'plan', atMs: 120, endMs: 180 }),
      step({ mark: 'request', atMs: 100, endMs: 400 }),
      step({ mark: 'warned', kind: 'log', parent: 'plan', atMs: 190, severityNumber: 13 }),
      step({ mark: 'plan', parent: 'request', atMs: 110, endMs: 300 }),
      step({ mark: 'told', kind: 'log', atMs: 350 }),
    ],
    200,
  )
  expect(trail.map(({ mark, depth, stand }) => [mark, depth, stand])).toEqual([
    ['request', 0, 'during'],
    ['plan', 1, 'during'],
    ['query', 2, 'before'],
    ['warned', 2, 'before'],
    ['told', 0, 'after'],
  ])
})

test('a parent that was not kept counts as none, and one that is named by a log record alone is no parent', () => {
  const trail = trailOf([step({ mark: 'a', parent: 'lost', atMs: 1 }), step({ mark: 'b', kind: 'log', parent: 'b', atMs: 2 })], 5)
  expect(trail.map(({ mark, depth }) => [mark, depth])).toEqual([
    ['a', 0],
    ['b', 0],
  ])
})

test('a chain longer than the stack is placed, and drawn no deeper than can be read', () => {
  const chain = Array.from({ length: 20_000 }, (_, at) => step({ mark: `s${at}`, parent: at === 0 ? null : `s${at - 1}`, atMs: at }))
  const trail = trailOf(chain, 0)
  expect(trail.map(({ mark }) => mark)).toEqual(chain.map(({ mark }) => mark))
  expect(trail.at(-1)?.depth).toBe(TRAIL_DEPTH_MAX)
})

const zSteps = fc
  .uniqueArray(fc.integer({ min: 0, max: 40 }), { maxLength: 30 })
  .chain((marks) =>
    fc.tuple(
      ...marks.map((mark) =>
        fc.record({
          mark: fc.constant(`s${mark}`),
          kind: fc.constantFrom<'span' | 'log'>('span', 'span', 'log'),
          parent: fc.option(fc.integer({ min: 0, max: 40 }).map((other) => `s${other}`)),
          atMs: fc.integer({ min: 0, max: 50 }),
          endMs: fc.option(fc.integer({ min: 0, max: 80 })),
        }),
      ),
    ),
  )
  .map((some) => some.map(step))

test('whatever senders say of parents, each step is there once, in time, and one deeper than the span that it stands in', () => {
  fc.assert(
    fc.property(zSteps, fc.integer({ min: 0, max: 80 }), (steps, errorAtMs) => {
      const trail = trailOf(steps, errorAtMs)
      expect(trail.map(({ mark }) => mark).sort()).toEqual(steps.map(({ mark }) => mark).sort())
      expect(trail.map(({ atMs }) => atMs)).toEqual(steps.map(({ atMs }) => atMs).sort((a, b) => a - b))
      const spans = new Map(trail.filter(({ kind }) => kind === 'span').map((span) => [span.mark, span]))
      for (const { depth, parent } of trail) {
        const above = parent === null ? undefined : spans.get(parent)
        if (above === undefined) expect(depth).toBe(0)
        // In a circle one of them begins.
        else if (depth > 0) expect(above.depth).toBe(depth - 1)
      }
      for (const { stand, atMs, endMs } of trail) {
        expect(stand === 'after').toBe(atMs > errorAtMs)
        if (stand === 'during') expect(endMs).toBeGreaterThanOrEqual(errorAtMs)
      }
    }),
  )
})

test('the order does not depend on the order of arrival, where no sender is wrong about parents', () => {
  fc.assert(
    fc.property(zSteps, (some) => {
      const steps = some.map((one, at) => ({
        ...one,
        parent: some.slice(0, at).some(({ mark }) => mark === one.parent) ? one.parent : null,
      }))
      expect(trailOf([...steps].reverse(), 20)).toEqual(trailOf(steps, 20))
    }),
  )
})
