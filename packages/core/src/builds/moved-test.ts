/** A test as its build knows it. */
export interface TestName {
  suite: string
  name: string
}

/**
 * What a test was called in the build before the first that ran it: it was moved where just one test of its name went and it alone of that
 * name came; it was renamed where just one test of its suite went and it alone of that suite came. Null where nothing says so: two
 * that went leave it open which of them it was. `gone` and `come` hold the tests of the one build that the other has not. Linear.
 */
export function formerName(test: TestName, { gone, come }: { gone: readonly TestName[]; come: readonly TestName[] }): TestName | null {
  const only = (fits: (one: TestName) => boolean): TestName | null => {
    const [went, more] = gone.filter(fits)
    return went !== undefined && more === undefined && come.filter(fits).length === 1 ? went : null
  }
  return only(({ name }) => name === test.name) ?? only(({ suite }) => suite === test.suite)
}
