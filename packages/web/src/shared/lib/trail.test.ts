import { describe, expect, test } from '@jest/globals'
import { parseLook } from '@dystracer/core/looking/look'
import fc from 'fast-check'
import { firstOnScreen, minWidthOf, parseTrail, PLACES, printTrail, segmentOf, segmentOfView, titleOf, type Segment } from './trail'

const kind = fc.constantFrom(...PLACES, 'item', 'fault', 'commit', 'pull-request', 'release', 'thread')
const segment: fc.Arbitrary<Segment> = fc.record({ kind, id: fc.string({ unit: 'grapheme', maxLength: 30 }) })

describe('a trail', () => {
  test('comes back from its address as it went in, whatever its ids hold', () => {
    fc.assert(
      fc.property(fc.array(segment, { minLength: 1, maxLength: 6 }), (segments) => {
        const address = printTrail(segments)
        expect(parseTrail(address)).toEqual(segments)
        // What a browser makes of an address is the same trail.
        expect(parseTrail(new URL(address, 'http://127.0.0.1').pathname)).toEqual(segments)
      }),
    )
  })

  test.each([
    ['/', [{ kind: 'desk', id: '' }]],
    ['', [{ kind: 'desk', id: '' }]],
    ['/items', [{ kind: 'items', id: '' }]],
    [
      '//items///item~EMB-4/',
      [
        { kind: 'items', id: '' },
        { kind: 'item', id: 'EMB-4' },
      ],
    ],
    [
      '/code/pull-request~kiln-controller,14',
      [
        { kind: 'code', id: '' },
        { kind: 'pull-request', id: 'kiln-controller/14' },
      ],
    ],
    ['/items~a%2Cb', [{ kind: 'items', id: 'a,b' }]],
    ['/items~%E0%A4%A', [{ kind: 'desk', id: '' }]],
    ['/items/item~%ZZ', [{ kind: 'items', id: '' }]],
  ] as [string, Segment[]][])('is read from %j', (address, segments) => {
    expect(parseTrail(address)).toEqual(segments)
  })

  test('shows a saved view with all that it keeps', () => {
    const shown = segmentOfView({
      viewId: 'v1',
      name: 'Bad ones',
      filter: 'open severity<=2',
      sort: 'newest',
      columns: ['severity', 'owner'],
      look: { layout: 'items', groupBy: 'owner' },
    } as Parameters<typeof segmentOfView>[0])
    expect(shown.kind).toBe('items')
    expect(parseLook(shown.id)).toEqual({ filter: 'open severity<=2', sort: 'newest', columns: ['severity', 'owner'], groupBy: 'owner' })
  })

  test('opens each kind of thing in a pane of its own; an environment among the releases, a test at its requirement', () => {
    expect(segmentOf({ kind: 'item', id: 'EMB-1' })).toEqual({ kind: 'item', id: 'EMB-1' })
    expect(segmentOf({ kind: 'environment', id: 'kiln-controller/production' })).toEqual({ kind: 'releases', id: '' })
    expect(segmentOf({ kind: 'test', id: 'kiln-controller/SAF-3' })).toEqual({ kind: 'requirement', id: 'SAF-3' })
  })

  test.each([
    [{ kind: 'triage', id: '' }, 'Triage'],
    [{ kind: 'commit', id: 'kiln-controller/5f96e16a0b' }, '5f96e16'],
    [{ kind: 'pull-request', id: 'kiln-controller/14' }, 'Pull request 14'],
    [{ kind: 'build', id: 'kiln-controller/212' }, 'Build 212'],
    [{ kind: 'branch', id: 'kiln-controller/fix/EMB-1' }, 'fix/EMB-1'],
    [{ kind: 'occurrence', id: 'F-3/17' }, 'Occurrence of F-3'],
    [{ kind: 'thread', id: 'requirement:SAF-3' }, 'Thread of SAF-3'],
    [{ kind: 'item', id: 'EMB-1' }, 'EMB-1'],
  ])('calls %j %j', (given, title) => {
    expect(titleOf(given)).toBe(title)
  })

  test('has a title for every place, and none is called by its kind', () => {
    for (const place of PLACES) expect(titleOf({ kind: place, id: '' })).toMatch(/^[A-Z]/)
  })
})

describe('what of a trail is on screen', () => {
  const trails = fc.array(segment, { minLength: 1, maxLength: 8 })

  test('the pane opened last always is, and as many before it as have room; one alone on a narrow window', () => {
    fc.assert(
      fc.property(trails, fc.integer({ min: 200, max: 4000 }), (segments, widthPx) => {
        const { from, to } = firstOnScreen(segments, widthPx)
        expect(to).toBe(segments.length)
        expect(from).toBeGreaterThanOrEqual(0)
        expect(from).toBeLessThan(to)
        const used = segments.slice(from, to).reduce((sum, each) => sum + minWidthOf(each) + 8, -8)
        if (to - from > 1) expect(used).toBeLessThanOrEqual(widthPx)
        if (widthPx < 700) expect(to - from).toBe(1)
      }),
    )
  })

  test('a wider window never shows fewer panes', () => {
    fc.assert(
      fc.property(trails, fc.integer({ min: 200, max: 3000 }), fc.integer({ min: 0, max: 1500 }), (segments, widthPx, more) => {
        expect(firstOnScreen(segments, widthPx + more).from).toBeLessThanOrEqual(firstOnScreen(segments, widthPx).from)
      }),
    )
  })

  test('a pane that is unfolded is the last one on screen', () => {
    const segments = ['desk', 'items', 'item', 'thread'].map((each) => ({ kind: each, id: '' }))
    expect(firstOnScreen(segments, 1280, 1)).toEqual({ from: 0, to: 2 })
    expect(firstOnScreen(segments, 1280, 9).to).toBe(4)
  })
})
