import { describe, expect, test } from '@jest/globals'
import { colourForNewLabel, contrastOf, LABEL_COLOURS, LABEL_COLOUR_NAMES } from './label-colour.js'
import { zMilestone } from './milestone.js'

describe('label colours', () => {
  test.each(Object.entries(LABEL_COLOURS))('%s stands out from paper, sheet and selection, light and dark', (_name, hex) => {
    for (const ground of ['#FFFEFA', '#F4F1EA', '#FBF3D6', '#1D2825', '#17201D', '#39391F'])
      expect(contrastOf(hex, ground)).toBeGreaterThanOrEqual(3)
  })

  test('contrast of black and white is 21, of a colour with itself 1', () => {
    expect(contrastOf('#000000', '#ffffff')).toBeCloseTo(21)
    expect(contrastOf(LABEL_COLOURS.blue, LABEL_COLOURS.blue)).toBe(1)
  })

  test('a new label takes the colour that is worn least', () => {
    expect(colourForNewLabel([])).toBe(LABEL_COLOUR_NAMES[0])
    expect(colourForNewLabel(['rust', 'blue', 'rust'])).toBe('sand')
    expect(colourForNewLabel([...LABEL_COLOUR_NAMES, 'rust'])).toBe('blue')
  })
})

describe('milestones', () => {
  test('a milestone cannot be due before it starts, nor on a day that is not there', () => {
    expect(zMilestone.safeParse({ name: '4.2', startsOn: '2026-12-01', dueOn: '2026-11-30' }).success).toBe(false)
    expect(zMilestone.safeParse({ name: '4.2', dueOn: '2026-02-30' }).success).toBe(false)
    expect(zMilestone.parse({ name: ' 4.2 ' })).toEqual({ name: '4.2', startsOn: null, dueOn: null, isClosed: false })
  })
})
