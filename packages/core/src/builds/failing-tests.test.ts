import { expect, test } from '@jest/globals'
import { failingSince, type TestRun } from './failing-tests.js'

const runs = (...outcomes: TestRun['outcome'][]): TestRun[] => outcomes.map((outcome, index) => ({ build: index + 1, outcome }))

test.each<[string, TestRun[], ReturnType<typeof failingSince>]>([
  ['nothing ran', [], null],
  ['it failed once', runs('passed', 'failed'), null],
  ['it fails twice running', runs('passed', 'failed', 'failed'), { build: 2, runs: 2 }],
  ['it passed in the newest', runs('failed', 'failed', 'passed'), null],
  ['a skip and a flaky run stand between', runs('passed', 'failed', 'skipped', 'flaky', 'failed'), { build: 2, runs: 2 }],
  ['it never passed', runs('failed', 'failed', 'failed'), { build: 1, runs: 3 }],
])('%s', (_name, given, expected) => {
  expect(failingSince(given)).toEqual(expected)
  expect(failingSince([...given].reverse())).toEqual(expected)
})
