import type { TestCase } from './report.js'

/**
 * What becomes of cases of one identity (suite and name) inside one report. Where each but the last failed and the last passed, they are
 * attempts at one case: it is flaky, with the message of its last failure. Otherwise each is a case of its own (parameters, repetitions,
 * findings of a linter): the second is called `name (2)`, and so on, in the order of the report. None is dropped. Linear.
 */
export function settleRepeats(cases: readonly TestCase[]): TestCase[] {
  const byIdentity = new Map<string, TestCase[]>()
  for (const test of cases) {
    const identity = JSON.stringify([test.suite, test.name])
    const same = byIdentity.get(identity)
    if (same) same.push(test)
    else byIdentity.set(identity, [test])
  }
  if (byIdentity.size === cases.length) return [...cases]
  const taken = new Set(byIdentity.keys())
  return [...byIdentity.values()].flatMap((same) => {
    if (same.length === 1) return same
    return areAttempts(same) ? [oneOf(same)] : same.map((test, at) => (at === 0 ? test : { ...test, name: freeName(test, at + 1, taken) }))
  })
}

function areAttempts(same: readonly TestCase[]): boolean {
  return same.every(({ outcome }, at) => (at === same.length - 1 ? outcome === 'passed' : outcome === 'failed'))
}

function oneOf(attempts: readonly TestCase[]): TestCase {
  const last = attempts[attempts.length - 1] as TestCase
  const failed = attempts[attempts.length - 2] as TestCase
  return {
    ...last,
    outcome: 'flaky',
    message: failed.message,
    properties: Object.assign({}, ...attempts.map(({ properties }) => properties)),
  }
}

/** A report may itself hold a case that is called `name (2)`. */
function freeName(test: TestCase, from: number, taken: Set<string>): string {
  for (let number = from; ; number++) {
    const name = `${test.name} (${number})`
    const identity = JSON.stringify([test.suite, name])
    if (taken.has(identity)) continue
    taken.add(identity)
    return name
  }
}
