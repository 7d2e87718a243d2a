import { describe, expect, test } from '@jest/globals'
import { groupFailures } from './failure-groups.js'

const trace = (message: string, ...frames: string[]) => `${message}\n${frames.map((frame) => `    at ${frame}`).join('\n')}`
const failed = (name: string, message: string, suite = 'plan') => ({ suite, name, message })
const shown = (failures: ReturnType<typeof failed>[]) =>
  groupFailures(failures).map(({ tests }) => tests.map((at) => failures[at]?.name).join(' '))

describe('failures of one build', () => {
  test('at one place of code belong together, whatever they say; the largest group comes first', () => {
    expect(
      shown([
        failed('alone', trace('Error: no reading of the lid', 'readLid (/b/src/lid.js:3:9)')),
        failed(
          'a',
          trace('AssertionError: 95.4999 !== 95', 'segmentMinutes (/b/src/segments.js:4:9)', 'Test.run (/b/test/plan.test.js:9:3)'),
        ),
        failed(
          'b',
          trace('AssertionError: 31.4 !== 31', 'segmentMinutes (/b/src/segments.js:7:2)', 'Test.run (/b/test/plan.test.js:29:3)'),
          'other',
        ),
      ]),
    ).toEqual(['a b', 'alone'])
  })

  test('that say the same once numbers and texts are masked belong together, unless that only says that two values differ', () => {
    expect(shown([failed('a', 'Error: kiln 7 does not answer'), failed('b', 'Error: kiln 9 does not answer', 'other')])).toEqual(['a b'])
    expect(
      shown([failed('a', 'AssertionError: expected 1 to equal 2', 'x'), failed('b', 'AssertionError: expected 3 to equal 4', 'y')]),
    ).toEqual(['a', 'b'])
  })

  test('are read whatever they say: words that run into each other do not keep the reader for ever', () => {
    const groups = groupFailures(Array.from({ length: 50 }, (_, at) => failed(`t${at}`, `${'tobe'.repeat(900)}!x${at}`)))
    expect(groups).toHaveLength(1)
  })

  test('say where they fail, outside of tests', () => {
    const [group] = groupFailures([
      failed('a', trace('TypeError: no offset', 'Object.<anonymous> (/b/test/probe.test.js:2:1)', 'readCelsius (/b/src/probe.js:6:20)')),
    ])
    expect(group).toMatchObject({
      place: { function: 'readCelsius', file: 'src/probe.js', line: 6 },
      message: expect.stringContaining('no offset'),
    })
  })

  test('without messages are each alone; of none there are no groups', () => {
    expect(shown([failed('a', ''), failed('b', '')])).toEqual(['a', 'b'])
    expect(groupFailures([])).toEqual([])
  })
})
