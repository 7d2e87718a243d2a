import { describe, expect, test } from '@jest/globals'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { ReportFormat } from '../report-format.js'
import { readReport } from './read-report.js'
import { type ReportContent, ReportFormatError, type TestCase } from './report.js'

/** What real producers wrote of small programs made for it: of each it is known what ran, what failed and what was left out. */
const FOLDER = join(import.meta.dirname, '../../../test-data/reports')
const bytesOf = (file: string) => readFileSync(join(FOLDER, file))
const casesOf = (file: string, format: ReportFormat): TestCase[] => {
  const content = readReport(format, bytesOf(file))
  if (content.kind !== 'tests') throw new Error(`${file} holds ${content.kind}`)
  return content.cases
}
const count = (cases: readonly TestCase[]) => {
  const of = (outcome: TestCase['outcome']) => cases.filter((each) => each.outcome === outcome).length
  return [of('passed'), of('failed'), of('skipped'), of('flaky')]
}
/** File, format, how many passed, failed and were skipped, and words of each failure in order. */
const TESTS: [string, ReportFormat, number, number, number, string[]][] = [
  ['jest-junit.xml', 'junit', 5, 1, 1, ['expect(received).toBe(expected)']],
  ['jest.ctrf.json', 'ctrf', 4, 1, 2, ['expect(received).toBe(expected)']],
  ['mocha-xunit.xml', 'junit', 2, 2, 2, ['1 !== 2', 'no probe']],
  ['mocha.tap', 'tap', 2, 2, 2, ['1 !== 2', 'no probe']],
  ['vitest.xml', 'junit', 3, 1, 2, ['deeply equal']],
  ['vitest.tap', 'tap', 3, 1, 2, ['deeply equal']],
  ['node.xml', 'junit', 2, 2, 2, ['1 !== 2', 'falsy']],
  ['node.tap', 'tap', 2, 2, 2, ['1 !== 2', 'falsy']],
  ['pytest.xml', 'junit', 4, 4, 2, ['assert 1 == 2', 'XPASS(strict)', 'no probe', 'stuck']],
  ['bats.tap', 'tap', 2, 1, 1, ['[ 1 -eq 2 ]']],
  ['bats.xml', 'junit', 2, 1, 1, ['[ 1 -eq 2 ]']],
  ['phpunit.xml', 'junit', 3, 3, 2, ['2 is identical to 1', 'less than 3', 'no probe']],
  ['ctest.xml', 'junit', 1, 1, 3, ['click']],
  ['gtest.xml', 'junit', 2, 2, 2, ['Expected equality', 'GetParam']],
  ['playwright.xml', 'junit', 3, 1, 2, ['expect(received).toBe(expected)']],
  ['vitest.ctrf.json', 'ctrf', 2, 1, 2, ['expected 1 to be 2']],
  ['mocha.ctrf.json', 'ctrf', 1, 2, 2, ['1 == 2', 'no probe']],
]

describe('a report of', () => {
  test.each(TESTS)('%s by %s has %i passed, %i failed, %i skipped', (file, format, passed, failed, skipped, words) => {
    const cases = casesOf(file, format)
    expect(count(cases)).toEqual([passed, failed, skipped, 0])
    const messages = cases.filter(({ outcome }) => outcome === 'failed').map(({ message }) => message)
    for (const [at, said] of words.entries()) expect(messages[at]).toContain(said)
    // Every case is one of its own: none was merged away.
    expect(new Set(cases.map(({ suite, name }) => `${suite}\n${name}`)).size).toBe(cases.length)
  })

  test('the same tests by two formats of one producer names them alike, as far as both say where they stand', () => {
    const names = (file: string, format: ReportFormat) =>
      casesOf(file, format)
        .map(({ name }) => name)
        .sort()
    expect(names('node.xml', 'junit')).toEqual(names('node.tap', 'tap'))
    expect(names('bats.xml', 'junit')).toEqual(names('bats.tap', 'tap'))
  })

  test('characters that stand for others are read as what they are', () => {
    const named = (file: string, format: ReportFormat) => casesOf(file, format).map(({ name }) => name.replace('SAF-3 the relay ', ''))
    expect(named('mocha.ctrf.json', 'ctrf')).toContain('opens & closes <twice>')
    for (const [file, format] of TESTS.filter(([name]) => !/pytest|phpunit|ctest|gtest/.test(name)))
      expect(casesOf(file, format).some(({ name }) => name.endsWith('opens & closes <twice>'))).toBe(true)
    expect(casesOf('node.xml', 'junit').map(({ name }) => name)).toContain('counts "clicks"')
  })

  test('two classes with a test of one name are two tests; parameters are kept apart', () => {
    const opens = casesOf('pytest.xml', 'junit').filter(({ name }) => name === 'test_opens')
    expect(opens.map(({ suite }) => suite)).toEqual(['pytest › test_kiln.TestRelay', 'pytest › test_kiln.TestOther'])
    expect(casesOf('phpunit.xml', 'junit').filter(({ name }) => name.startsWith('testZone'))).toHaveLength(3)
    expect(casesOf('gtest.xml', 'junit').find(({ name }) => name === 'Counts')?.properties).toEqual({ zone: '3' })
  })

  test('totals that do not fit are said, and those that count in another way are not', () => {
    const notes = (file: string) => readReport('junit', bytesOf(file)).notes.join(' ')
    expect(notes('mocha-xunit.xml')).toContain('says that it has 5 cases; 6 are in the file')
    for (const file of ['node.xml', 'ctest.xml', 'gtest.xml', 'bats.xml', 'phpunit.xml', 'vitest.xml']) expect(notes(file)).toBe('')
  })

  test('a case that passed when it was tried again is flaky, and one that is known to fail and did has passed', () => {
    const cases = casesOf('playwright.ctrf.json', 'ctrf')
    expect(count(cases)).toEqual([2, 1, 2, 1])
    expect(cases.find(({ outcome }) => outcome === 'flaky')?.name).toBe('burns on the second try')
    expect(cases.find(({ name }) => name === 'is known to fail')?.outcome).toBe('passed')
  })

  test('colours for a terminal are no words of a message, written as they are or escaped', () => {
    const { notes } = readReport('ctrf', bytesOf('playwright.ctrf.json'))
    const [failed] = casesOf('playwright.ctrf.json', 'ctrf').filter(({ outcome }) => outcome === 'failed')
    expect(failed?.message).toMatch(/^Error: expect\(received\)\.toBe\(expected\) \/\/ Object\.is equality\n\nExpected: 2\nReceived: 1\n/)
    expect(notes).toEqual(['Control characters in it were left out.'])
  })

  test.each([
    ['node.lcov', 'lcov', 'n/kiln.test.js', null, []],
    ['pytest.lcov', 'lcov', 'kiln.py', [1, 2, 4], [3]],
    ['pytest-cov.xml', 'cobertura', 'kiln.py', [1, 2, 4], [3]],
    ['c8.lcov', 'lcov', 'kiln.js', [1, 2, 5, 6], [3, 4]],
    ['c8-cov.xml', 'cobertura', 'kiln.js', [1, 2, 5, 6], [3, 4]],
    ['c8-clover.xml', 'clover', '/home/ci/kiln/cov/kiln.js', [1, 2, 5, 6], [3, 4]],
    ['geninfo.lcov', 'lcov', '/home/ci/kiln/cov/kiln.c', [1, 2, 4, 6], [3]],
    ['gcovr-cov.xml', 'cobertura', 'kiln.c', [1, 2, 4, 6], [3]],
    ['jacoco.xml', 'jacoco', 'kiln/Kiln.java', [4, 7, 10, 11], [2, 5]],
  ] as const)('coverage: %s by %s names the lines of %s', (file, format, path, covered, missed) => {
    const content = readReport(format, bytesOf(file))
    if (content.kind !== 'coverage') throw new Error(content.kind)
    const [first] = content.files
    expect(first).toEqual({ path, covered: covered ?? first?.covered, missed })
    expect(first?.covered.length).toBeGreaterThan(0)
  })

  test.each([
    ['biome.sarif', 'Biome', 9, ['lint/suspicious/noDebugger', 'error', 'lint/bad.js', 2]],
    ['clang.sarif', 'clang', 9, ['6404', 'warning', 'lint/bad.c', 2]],
    ['eslint.sarif', 'ESLint', 5, ['eqeqeq', 'error', 'lint/bad.js', 2]],
    ['markdownlint.sarif', 'markdownlint-cli2', 8, ['MD004', 'error', 'bad.md', 4]],
    ['stylelint.sarif', 'stylelint', 3, ['property-no-unknown', 'error', 'lint/bad.css', 1]],
  ] as const)('findings: %s by %s holds %i of them, each by rule, level, file and line', (file, tool, many, one) => {
    const content = readReport('sarif', bytesOf(file))
    if (content.kind !== 'findings') throw new Error(content.kind)
    expect(content.findings).toHaveLength(many)
    expect(new Set(content.findings.map((finding) => finding.tool))).toEqual(new Set([tool]))
    expect(new Set(content.findings.map(({ identity }) => identity)).size).toBe(many)
    const [ruleId, level, path, line] = one
    const found = content.findings.find((finding) => finding.ruleId === ruleId)
    expect(found).toMatchObject({ level, line })
    expect(found?.file).toMatch(new RegExp(`${path}$`))
    // What a comment in the code switches off is no finding, and that is said.
    expect(content.notes).toEqual(file === 'eslint.sarif' ? ['1 suppressed results are no findings.'] : [])
  })
})

const FORMAT_BY_ENDING: [ending: string, format: ReportFormat][] = [
  ['.tap', 'tap'],
  ['.lcov', 'lcov'],
  ['.json', 'ctrf'],
  ['.sarif', 'sarif'],
  ['-cov.xml', 'cobertura'],
  ['-clover.xml', 'clover'],
  ['jacoco.xml', 'jacoco'],
  ['.xml', 'junit'],
]
const FORMAT_OF = (file: string): ReportFormat => FORMAT_BY_ENDING.find(([ending]) => file.endsWith(ending))?.[1] ?? 'junit'
const FILES = readdirSync(FOLDER).filter((file) => file !== 'README.md')

describe('a damaged report', () => {
  /** Reads what may be damaged: a reading, or a refusal in words; anything else fails the test. */
  const tryRead = (file: string, bytes: Uint8Array): ReportContent | null => {
    try {
      return readReport(FORMAT_OF(file), bytes)
    } catch (error) {
      if (error instanceof ReportFormatError && error.message.length > 5) return null
      throw error
    }
  }

  test.each(FILES)('of %s that was cut anywhere is refused in words, or never says more than the whole', (file) => {
    const bytes = bytesOf(file)
    const whole = tryRead(file, bytes)
    const size = (content: ReportContent | null) => (content?.kind === 'tests' ? content.cases.length : 0)
    for (let at = 0; at < bytes.length; at += Math.max(1, Math.floor(bytes.length / 150)))
      // A run that was cut is a case that failed, beside those that were read.
      expect(size(tryRead(file, bytes.subarray(0, at)))).toBeLessThanOrEqual(size(whole) + 1)
  })

  test.each(FILES)('of %s with any byte changed is read or refused in words', (file) => {
    const bytes = bytesOf(file)
    for (let at = 0; at < bytes.length; at += Math.max(1, Math.floor(bytes.length / 120)))
      for (const byte of [0, 0x3c, 0x26, 0xff]) {
        const changed = Uint8Array.from(bytes)
        changed[at] = byte
        tryRead(file, changed)
      }
  })

  test.each(FILES)('of %s in UTF-16 says the same as in UTF-8', (file) => {
    const text = bytesOf(file)
      .toString('utf8')
      .replace('encoding="UTF-8"', 'encoding="UTF-16"')
      .replace('encoding="utf-8"', 'encoding="utf-16"')
    const utf16 = Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(text, 'utf16le')])
    expect(tryRead(file, utf16)).toEqual(tryRead(file, bytesOf(file)))
  })
})
