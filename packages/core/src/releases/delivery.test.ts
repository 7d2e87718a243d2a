import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { deliveryFigures, quantile, type DeliveredDeployment } from './delivery.js'

const DAY = 86_400_000
const MONDAY = Date.parse('2026-11-02T00:00:00Z')
const deployed = (service: string, day: number, more: Partial<DeliveredDeployment> = {}): DeliveredDeployment => ({
  service,
  deploymentId: `${service}-${day}`,
  release: `1.${day}`,
  environment: 'production',
  atMs: MONDAY + day * DAY,
  runningAtMs: MONDAY + day * DAY,
  isBad: false,
  restoredAtMs: null,
  ...more,
})
const time = { fromMs: MONDAY, untilMs: MONDAY + 28 * DAY }

describe('delivery', () => {
  test('is counted for all services and each, by week, with what failed and how long that lasted', () => {
    const deployments = [
      deployed('kiln', 0),
      deployed('kiln', 1, { isBad: true, restoredAtMs: MONDAY + 1.5 * DAY }),
      deployed('kiln', 8),
      deployed('lab', 20, { isBad: true, runningAtMs: null }),
      deployed('kiln', -3),
    ]
    const commits = [1, 2, 3, 10].map((days) => ({ service: 'kiln', id: `c${days}`, begunAtMs: MONDAY - days * DAY, runningAtMs: MONDAY }))
    const [all, kiln, lab] = deliveryFigures({ deployments, commits, items: [], ...time })
    expect(all).toMatchObject({ service: null, deployments: 4, perWeek: 1, failures: { count: 2, of: 4 }, itemLead: null })
    expect(kiln).toMatchObject({
      deployments: 3,
      restore: { count: 1, medianMs: 0.5 * DAY, longest: [{ id: 'kiln@1.1', ms: 0.5 * DAY }] },
      commitLead: { count: 4, medianMs: 2.5 * DAY, longest: [{ id: 'c10' }, { id: 'c3' }, { id: 'c2' }, { id: 'c1' }] },
    })
    expect(kiln?.weeks.map(({ deployments: of, bad }) => [of, bad])).toEqual([
      [2, 1],
      [1, 0],
      [0, 0],
      [0, 0],
    ])
    expect(lab).toMatchObject({ deployments: 1, restore: null, commitLead: null })
  })

  test('takes no time where clocks say less than none', () => {
    const commits = [{ service: 'kiln', id: 'c', begunAtMs: MONDAY + DAY, runningAtMs: MONDAY }]
    expect(deliveryFigures({ deployments: [deployed('kiln', 0)], commits, items: [], ...time })[0]?.commitLead).toMatchObject({
      medianMs: 0,
    })
  })

  test('has quantiles between the values, never falling as the share grows', () => {
    expect(quantile([4, 1, 3, 2], 0.5)).toBe(2.5)
    expect(quantile([1, 2], 0.85)).toBeCloseTo(1.85)
    expect(quantile([], 0.5)).toBeNaN()
    const values = fc.array(fc.integer({ min: -1e6, max: 1e6 }), { minLength: 1 })
    fc.assert(
      fc.property(values, fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }), (all, a, b) => {
        const [low, high] = [quantile(all, Math.min(a, b)), quantile(all, Math.max(a, b))]
        expect(low).toBeLessThanOrEqual(high + 1e-9)
        expect([quantile(all, 0), quantile(all, 1)]).toEqual([Math.min(...all), Math.max(...all)])
      }),
    )
  })
})
