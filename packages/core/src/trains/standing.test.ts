import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { isReady, TRAIN_STANDINGS, trainStanding } from './standing.js'

const car = (release: string | null, wasInProduction = false) => ({ release, wasInProduction })

describe('a train', () => {
  test.each([
    ['planned', [car('2.5.0'), car(null)]],
    ['made', [car('2.5.0'), car('4.2.0')]],
    ['under-way', [car('2.5.0', true), car('4.2.0')]],
    ['under-way', [car('2.5.0', true), car(null)]],
    ['there', [car('2.5.0', true), car('4.2.0', true)]],
  ] as const)('is %s', (standing, cars) => {
    expect(trainStanding(cars, false)).toBe(standing)
    expect(trainStanding(cars, true)).toBe('called-off')
  })

  test('never goes back when one of its services gets further', () => {
    const zCars = fc.array(fc.record({ release: fc.option(fc.constant('1.0.0')), wasInProduction: fc.boolean() }), {
      minLength: 1,
      maxLength: 6,
    })
    fc.assert(
      fc.property(zCars, fc.nat(), (cars, at) => {
        const before = trainStanding(cars, false)
        const further = cars.map((one, index) =>
          index !== at % cars.length ? one : one.release === null ? car('1.0.0') : car(one.release, true),
        )
        expect(TRAIN_STANDINGS.indexOf(trainStanding(further, false))).toBeGreaterThanOrEqual(TRAIN_STANDINGS.indexOf(before))
      }),
    )
  })
})

test('what a train waits for is complete when something fits and nothing of it is still to be merged', () => {
  expect(isReady({ waitsFor: 'milestone=4.2', total: 3, open: 0 })).toBe(true)
  expect(isReady({ waitsFor: 'milestone=4.2', total: 3, open: 1 })).toBe(false)
  expect(isReady({ waitsFor: 'milestone=4.2', total: 0, open: 0 })).toBe(false)
  expect(isReady({ waitsFor: '', total: 3, open: 0 })).toBe(false)
})
