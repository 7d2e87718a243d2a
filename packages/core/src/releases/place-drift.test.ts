import { expect, test } from '@jest/globals'
import { placeDrift } from './place-drift.js'

const MINUTE_MS = 60_000
const NOW_MS = 1_000 * MINUTE_MS
const ago = (minutes: number) => NOW_MS - minutes * MINUTE_MS
const heard = (environment: string, release: string, minutesAgo: number) => ({ environment, release, lastAtMs: ago(minutesAgo) })
const told = (environment: string, release: string, minutesAgo: number) => ({ environment, release, sinceMs: ago(minutesAgo) })
const names = (input: { heard: ReturnType<typeof heard>[]; told: ReturnType<typeof told>[] }) =>
  placeDrift({ ...input, nowMs: NOW_MS }).map(({ environment, release, told: expected, isPartly }) => [
    environment,
    release,
    expected,
    isPartly,
  ])

test.each([
  ['nothing where both say the same', [heard('production', '2', 1)], [told('production', '2', 90)], []],
  ['another release than was told', [heard('production', '1', 1)], [told('production', '2', 90)], [['production', '1', '2', false]]],
  [
    'another beside the one that was told: it came to some machines',
    [heard('production', '1', 1), heard('production', '2', 2)],
    [told('production', '2', 90)],
    [['production', '1', '2', true]],
  ],
  ['nothing while machines go over to it', [heard('production', '1', 1)], [told('production', '2', 9)], []],
  ['nothing of what was last heard before it came', [heard('production', '1', 50)], [told('production', '2', 45)], []],
  ['nothing of what was heard long ago', [heard('production', '1', 61)], [told('production', '2', 900)], []],
  ['nothing of programs that name no release', [heard('production', 'unknown', 1), heard('production', '', 1)], [], []],
  ['what runs where nobody told of anything', [heard('staging', '3', 1)], [told('production', '2', 90)], [['staging', '3', null, false]]],
  [
    'place by place, the newest first',
    [heard('staging', '1', 5), heard('production', '0', 9), heard('production', '1', 3)],
    [],
    [
      ['production', '1', null, false],
      ['production', '0', null, false],
      ['staging', '1', null, false],
    ],
  ],
] as const)('finds %s', (_name, ofHeard, ofTold, expected) => {
  expect(names({ heard: [...ofHeard], told: [...ofTold] })).toEqual(expected)
})
