import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { guessReportFormat, type ReportFormat } from '../report-format.js'
import { uniteCoverage } from './coverage.js'
import { fromRanges, toRanges } from '#text/line-ranges'
import { readReport } from './read-report.js'
import { ReportFormatError, type TestCase } from './report.js'
import { settleRepeats } from './repeats.js'
import { firstSentence } from './sarif.js'

/** Reports as real producers wrote them about one small set of tests each. */
const FIXTURES = join(import.meta.dirname, '../../../fixtures/reports')
const bytesOf = (text: string) => new TextEncoder().encode(text)
const read = (format: ReportFormat, text: string | Uint8Array) => readReport(format, typeof text === 'string' ? bytesOf(text) : text)
const cases = (format: ReportFormat, text: string | Uint8Array) => {
  const content = read(format, text)
  if (content.kind !== 'tests') throw new Error('no tests')
  return content.cases
}
const lines = (tests: readonly TestCase[]) => tests.map(({ outcome, suite, name }) => `${outcome} ${suite} | ${name}`)
const fixture = (name: string) => readFileSync(join(FIXTURES, name))

describe('what producers really write', () => {
  test('is told by how it begins', () => {
    const guessed = Object.fromEntries(readdirSync(FIXTURES).map((name) => [name, guessReportFormat(fixture(name).toString('utf8'))]))
    const expected = (name: string): ReportFormat =>
      name.endsWith('.tap')
        ? 'tap'
        : name.endsWith('.sarif')
          ? 'sarif'
          : name.includes('ctrf')
            ? 'ctrf'
            : name.endsWith('lcov')
              ? 'lcov'
              : name.includes('clover')
                ? 'clover'
                : name.includes('cobertura') || name.startsWith('coverage')
                  ? 'cobertura'
                  : 'junit'
    expect(guessed).toEqual(Object.fromEntries(Object.keys(guessed).map((name) => [name, expected(name)])))
    expect(guessReportFormat('%PDF-1.7')).toBeNull()
  })

  test.each<[string, ReportFormat, string[]]>([
    [
      'pytest.xml',
      'junit',
      [
        'passed pytest › test_kiln.TestKiln | test_fires',
        'failed pytest › test_kiln.TestKiln | test_relay',
        'passed pytest › test_kiln.TestLid | test_relay',
        'skipped pytest › test_kiln | test_saf_3',
        'skipped pytest › test_kiln | test_expected',
        'passed pytest › test_kiln | test_double[1]',
        'failed pytest › test_kiln | test_double[2]',
        'failed pytest › test_kiln | test_set_up',
        'failed pytest › test_kiln | test_tear_down',
      ],
    ],
    [
      'gtest.xml',
      'junit',
      [
        'passed Kiln | fires',
        'failed Kiln | relay',
        'skipped Kiln | DISABLED_off',
        'skipped Kiln | skipped',
        'passed Lid | relay',
        'passed All/P | doubles/0',
        'failed All/P | doubles/1',
      ],
    ],
    ['ctest.xml', 'junit', ['passed (empty) | fires', 'failed (empty) | relay', 'skipped (empty) | off']],
    [
      'gotestsum.xml',
      'junit',
      [
        'failed example.org/kiln | TestRelay/open',
        'failed example.org/kiln | TestRelay/open (2)',
        'failed example.org/kiln | TestRelay/open (3)',
        'failed example.org/kiln | TestRelay',
        'failed example.org/kiln | TestRelay (2)',
        'failed example.org/kiln | TestRelay (3)',
        'flaky example.org/kiln | TestFlaky',
        'skipped example.org/kiln | TestSkipped',
        'passed example.org/kiln | TestFires',
        'passed example.org/kiln | TestRelay/shut',
      ],
    ],
    [
      'vitest.xml',
      'junit',
      [
        'passed kiln.test.js | kiln > fires at 1040 °C & holds',
        'failed kiln.test.js | kiln > opens the relay',
        'skipped kiln.test.js | kiln > SAF-3 burns nobody',
        'passed kiln.test.js | kiln > doubles',
        'failed kiln.test.js | kiln > doubles (2)',
        'passed kiln.test.js | kiln > doubles (3)',
      ],
    ],
    [
      'node-junit.xml',
      'junit',
      [
        'passed kiln | fires at 1040 °C & holds',
        'failed kiln | opens the relay',
        'skipped kiln | SAF-3 burns nobody',
        'skipped kiln | glows',
        'passed tests | at the top',
      ],
    ],
    [
      'node.tap',
      'tap',
      [
        'passed kiln | fires at 1040 °C & holds',
        'failed kiln | opens the relay',
        'skipped kiln | SAF-3 burns nobody',
        'skipped kiln | glows',
        'passed tests | at the top',
      ],
    ],
    [
      'perl.tap',
      'tap',
      [
        'passed tests | fires',
        'failed tests | opens the relay',
        'skipped tests | test 3',
        'skipped tests | glows',
        'passed lid | opens',
        'failed lid | shuts',
      ],
    ],
    ['bats.tap', 'tap', ['passed tests | fires', 'failed tests | opens the relay', 'skipped tests | burns nobody']],
    [
      'mocha.tap',
      'tap',
      [
        'passed tests | kiln fires at 1040 °C & holds',
        'failed tests | kiln opens the relay',
        'skipped tests | kiln SAF-3 burns nobody',
        'passed tests | kiln cooling opens the relay',
        'passed tests | lid opens the relay',
        'failed tests | broken "before all" hook for "never runs"',
      ],
    ],
    [
      'jest-ctrf.json',
      'ctrf',
      [
        'passed kiln.test.js › kiln | kiln fires at 1040 °C & holds',
        'failed kiln.test.js › kiln | kiln opens the relay',
        'skipped kiln.test.js › kiln | kiln SAF-3 burns nobody',
        'passed kiln.test.js › kiln › cooling | kiln cooling opens the relay',
        'passed kiln.test.js › lid | lid opens the relay',
      ],
    ],
    [
      'phpunit.xml',
      'junit',
      [
        'passed KilnTest | testFires',
        'failed KilnTest | testRelay',
        'skipped KilnTest | testSkipped',
        'passed KilnTest › KilnTest::testDoubles | testDoubles with data set "one"',
        'failed KilnTest › KilnTest::testDoubles | testDoubles with data set "two"',
      ],
    ],
    [
      'rspec.xml',
      'junit',
      [
        'passed rspec › kiln_spec | kiln fires',
        'failed rspec › kiln_spec | kiln opens the relay',
        'skipped rspec › kiln_spec | kiln burns nobody',
        'passed rspec › kiln_spec | kiln lid opens the relay',
      ],
    ],
    ['bats.xml', 'junit', ['passed k.bats | fires', 'failed k.bats | opens the relay', 'skipped k.bats | burns nobody']],
  ])('%s', (name, format, expected) => {
    expect(lines(cases(format, fixture(name)))).toEqual(expected)
  })

  test('a wrong total is said: pytest counts an error of tearing down as a case of its own', () => {
    expect(read('junit', fixture('pytest.xml')).notes).toEqual(['The suite “pytest” says that it has 10 cases; 9 are in the file.'])
    expect(read('junit', fixture('gtest.xml')).notes).toEqual([])
  })

  test.each<[string, ReportFormat, object]>([
    ['nyc.lcov', 'lcov', { 'cov.js': '1-2 /' }],
    ['nyc-cobertura.xml', 'cobertura', { 'cov.js': '1-2 /' }],
    ['nyc-clover.xml', 'clover', { '/builds/kiln/js/cov.js': '1-2 /' }],
    ['cobertura-php.xml', 'cobertura', { 'KilnTest.php': '4-5 8 / 6 9' }],
    ['clover-php.xml', 'clover', { '/builds/kiln/php/KilnTest.php': '4-5 8 / 6 9' }],
    ['coverage-py.xml', 'cobertura', { 'test_kiln.py': '1-21 /' }],
    ['coverage-py.lcov', 'lcov', { 'test_kiln.py': '1-21 /' }],
    ['node.lcov', 'lcov', { 'n.test.mjs': '1-9 /' }],
  ])('lines of %s', (name, format, expected) => {
    const content = read(format, fixture(name))
    if (content.kind !== 'coverage') throw new Error('no coverage')
    expect(
      Object.fromEntries(content.files.map(({ path, covered, missed }) => [path, `${toRanges(covered)} / ${toRanges(missed)}`.trim()])),
    ).toEqual(expected)
  })

  test('findings of a linter carry level, rule, place and an identity that a shifted line does not change', () => {
    const content = read('sarif', fixture('eslint.sarif'))
    if (content.kind !== 'findings') throw new Error('no findings')
    expect(content.findings.map(({ level, ruleId, file, line }) => `${level} ${ruleId} ${file}:${line}`)).toEqual([
      'warning no-unused-vars /builds/kiln/js/lint.js:1',
      'error no-debugger /builds/kiln/js/lint.js:1',
      'error no-undef /builds/kiln/js/lint.js:1',
      'warning eqeqeq /builds/kiln/js/lint.js:1',
      'warning no-unused-vars /builds/kiln/js/lint.js:2',
    ])
    const shifted = read('sarif', fixture('eslint.sarif').toString().replaceAll('"startLine": 1', '"startLine": 41'))
    expect(shifted.kind === 'findings' && shifted.findings.map(({ identity }) => identity)).toEqual(
      content.findings.map(({ identity }) => identity),
    )
  })
})

describe('a JUnit report', () => {
  const one = (inner: string, attributes = '') =>
    `<testsuite name="s"><testcase name="a" classname="c" ${attributes}>${inner}</testcase></testsuite>`

  test('tells two classes with a test of one name apart', () => {
    const text =
      '<testsuite name="s"><testcase classname="Kiln" name="relay"/><testcase classname="Lid" ' +
      'name="relay"><failure/></testcase></testsuite>'
    expect(lines(cases('junit', text))).toEqual(['passed s › Kiln | relay', 'failed s › Lid | relay'])
  })

  test.each([
    ['status="disabled"', 'skipped'],
    ['status="notrun" result="suppressed"', 'skipped'],
    ['result="completed" status="run"', 'passed'],
    ['status="fail"', 'failed'],
  ])('reads %s as %s', (attributes, outcome) => {
    expect(cases('junit', one('', attributes))).toMatchObject([{ outcome }])
  })

  test('takes an attempt that failed before another passed as flaky, and one that failed again as failed', () => {
    expect(cases('junit', one('<flakyFailure message="first">trace</flakyFailure>'))).toMatchObject([
      { outcome: 'flaky', message: 'first\ntrace' },
    ])
    expect(cases('junit', one('<failure message="no"/><rerunFailure message="no again"/>'))).toMatchObject([{ outcome: 'failed' }])
  })

  test('keeps what failed beside the cases', () => {
    const text = '<testsuite name="s"><testcase name="a"/><error message="no probe"/></testsuite>'
    expect(cases('junit', text)).toMatchObject([{ name: 'a' }, { name: '(beside the tests)', outcome: 'failed', message: 'no probe' }])
  })

  test('decodes references to characters, and leaves control characters out with a word', () => {
    const content = read('junit', one('<failure message="&#176;C &#x27;hot&#x27; &#x1b;[31m\u0001&amp;"/>'))
    expect(content).toMatchObject({ cases: [{ message: "°C 'hot' &" }], notes: ['Control characters in it were left out.'] })
  })

  test('reads properties as attributes and as text', () => {
    const text = one('<properties><property name="requirement" value="SAF-3"/><property name="verifies">SAF-4</property></properties>')
    expect(cases('junit', text)[0]?.properties).toEqual({ requirement: 'SAF-3', verifies: 'SAF-4' })
  })

  test('is decoded by its mark or its declaration, and refused by name where that is not known', () => {
    const text = '<testsuite name="s"><testcase name="Öfen"/></testsuite>'
    const utf16 = new Uint8Array([0xff, 0xfe, ...new Uint8Array(Uint16Array.from([...text].map((c) => c.charCodeAt(0))).buffer)])
    const latin = Uint8Array.from([...`<?xml version="1.0" encoding="ISO-8859-1"?>${text}`].map((c) => c.charCodeAt(0)))
    for (const bytes of [utf16, latin]) expect(cases('junit', bytes)[0]?.name).toBe('Öfen')
    expect(() => read('junit', `<?xml version="1.0" encoding="klingon"?>${text}`)).toThrow('the encoding “klingon” is not known')
    expect(() => read('junit', Uint8Array.from([...`${'<testsuite>\n'}Ö`].map((c) => c.charCodeAt(0))))).toThrow(
      'bytes that are no UTF-8 (line 2)',
    )
  })

  test.each([
    ['entities of its own', '<!DOCTYPE a [<!ENTITY b "c">]><testsuite/>', 'a document type with definitions'],
    ['a thousand suites inside each other', `${'<testsuite>'.repeat(5000)}${'</testsuite>'.repeat(5000)}`, 'nest deeper than'],
    ['a cut end', '<testsuite>\n<testcase name="a">', 'not well-formed XML'],
    ['another root', '<html/>', 'no <testsuites> or <testsuite>'],
  ])('with %s is refused', (_name, text, why) => {
    expect(() => read('junit', text)).toThrow(why)
    expect(() => read('junit', text)).toThrow(ReportFormatError)
  })

  test('of 200,000 cases is read', () => {
    const text = `<testsuite name="s">${Array.from(
      { length: 200_000 },
      (_, at) => `<testcase classname="c${at % 40}" name="case ${at}" time="0.01"/>`,
    ).join('')}</testsuite>`
    expect(cases('junit', text)).toHaveLength(200_000)
  })
})

describe('other formats', () => {
  test('a TAP stream that was broken off or does not keep its plan has a case that failed', () => {
    expect(lines(cases('tap', '1..3\nok 1 - a\nBail out! no kiln\n'))).toEqual(['passed tests | a', 'failed  | (the run as a whole)'])
    expect(cases('tap', '1..3\nok 1 - a\n').at(-1)?.message).toBe('Planned were 3 tests; 1 are in it.')
    expect(cases('tap', 'ok 1 - a\n').at(-1)?.message).toBe('It has no plan, so it may have been cut.')
    expect(() => read('tap', 'hello')).toThrow('no line in it is a test point')
  })

  test('a JaCoCo report names its files by package; a line of which one instruction ran was run', () => {
    const text =
      '<?xml version="1.0"?><!DOCTYPE report PUBLIC "-//JACOCO//DTD Report 1.1//EN" "report.dtd"><report ' +
      'name="kiln"><package name="org/kiln"><sourcefile name="Probe.java"><line nr="3" mi="0" ci="2" mb="0" ' +
      'cb="0"/><line nr="4" mi="2" ci="1"/><line nr="5" mi="2" ci="0"/></sourcefile></package></report>'
    expect(read('jacoco', text)).toMatchObject({ files: [{ path: 'org/kiln/Probe.java', covered: [3, 4], missed: [5] }] })
  })

  test.each<[ReportFormat, string, string]>([
    ['ctrf', '{"results":{"tests":[{"status":"passed"}]}}', 'results.tests.0.name'],
    ['ctrf', '{', 'not JSON'],
    ['lcov', 'DA:1,1', 'outside a file (line 1)'],
    ['lcov', 'SF:a\nDA:x,1', '“DA:x,1” is no count of a line (line 2)'],
    ['lcov', 'hello', 'no file (SF:)'],
    ['cobertura', '<coverage/>', 'no file in it'],
    ['clover', '<report/>', 'no <coverage>'],
    ['sarif', '{"version":"2.0.0","runs":[]}', 'only SARIF 2.1.0'],
  ])('a broken %s report is refused with the place', (format, text, why) => {
    expect(() => read(format, text)).toThrow(why)
  })

  test('suppressed and gone results are no findings; rules lend level and words; a path is decoded; the same one twice is two', () => {
    const result = (more: object) => ({
      ruleId: 'X1',
      message: { text: 'Use a.b() instead. It is new.' },
      locations: [{ physicalLocation: { artifactLocation: { uri: 'src/hot%20kiln.js' }, region: { startLine: 4 } } }],
      ...more,
    })
    const log = {
      version: '2.1.0',
      runs: [
        {
          tool: {
            driver: {
              name: 'lint',
              rules: [{ id: 'X2', messageStrings: { hot: { text: '{0} is hot' } }, defaultConfiguration: { level: 'error' } }],
            },
          },
          results: [
            result({}),
            result({}),
            result({ suppressions: [{ kind: 'inSource' }] }),
            result({ suppressions: [{ kind: 'external', status: 'rejected' }], level: 'note' }),
            result({ baselineState: 'absent' }),
            result({ kind: 'pass' }),
            { ruleId: 'X2', ruleIndex: 0, message: { id: 'hot', arguments: ['The lid'] } },
          ],
        },
      ],
    }
    const content = read('sarif', JSON.stringify(log))
    if (content.kind !== 'findings') throw new Error('no findings')
    expect(content.notes).toEqual(['1 suppressed results are no findings.'])
    expect(content.findings).toMatchObject([
      { level: 'warning', file: 'src/hot kiln.js', line: 4 },
      { level: 'warning' },
      { level: 'note' },
      { level: 'error', message: 'The lid is hot', file: null },
    ])
    expect(new Set(content.findings.map(({ identity }) => identity)).size).toBe(4)
    expect(firstSentence('Use a.b() instead. It is new.')).toBe('Use a.b() instead')
    expect(firstSentence('Line one\nline two')).toBe('Line one')
  })
})

test('a SARIF log says of what kind a finding is, what it takes to mend it, how it comes about, and what may be done', () => {
  const step = (uri: string, startLine: number, text: string) => ({
    location: { message: { text }, physicalLocation: { artifactLocation: { uri }, region: { startLine } } },
  })
  const rules = [
    { id: 'W1', helpUri: 'https://rules.example/w1', properties: { tags: ['security'], minutes: 45 } },
    { id: 'W2', helpUri: 'javascript:alert(1)', properties: { tags: 7, minutes: -3 } },
  ]
  const log = {
    version: '2.1.0',
    runs: [
      {
        tool: { driver: { name: 'flow', rules } },
        results: [
          {
            ruleId: 'W1',
            message: { text: 'A length from outside is trusted' },
            codeFlows: [
              { threadFlows: [{ locations: [] }] },
              { threadFlows: [{ locations: [step('src/wire.js', 3, 'read here'), step('src/pump.js', 9, 'used here'), {}] }] },
            ],
            fixes: [{ description: { text: 'Check the length' } }, {}],
          },
          { ruleId: 'W2', message: { text: 'Odd' }, level: 'note', properties: { minutes: 5 } },
          { ruleId: 'W2', message: { text: 'Odder' }, level: 'error' },
        ],
      },
    ],
  }
  const content = read('sarif', JSON.stringify(log))
  if (content.kind !== 'findings') throw new Error('no findings')
  expect(content.findings).toMatchObject([
    {
      kind: 'weakness',
      minutes: 45,
      detail: {
        steps: [
          { file: 'src/wire.js', line: 3, message: 'read here' },
          { file: 'src/pump.js', line: 9, message: 'used here' },
          { file: null, line: null, message: '' },
        ],
        fixes: ['Check the length'],
        helpUrl: 'https://rules.example/w1',
      },
    },
    { kind: 'smell', minutes: 5, detail: { steps: [], fixes: [], helpUrl: null } },
    { kind: 'bug', minutes: 30 },
  ])
})

describe('laws', () => {
  const test01 = fc.record({
    suite: fc.constantFrom('s', 't'),
    name: fc.constantFrom('a', 'a (2)', 'b'),
    outcome: fc.constantFrom('passed' as const, 'failed' as const, 'skipped' as const),
    durationMs: fc.constant(0),
    message: fc.string({ maxLength: 3 }),
    properties: fc.constant({}),
  })

  test('no case of a report is lost: each stands alone under a name of its own, or is an attempt of a flaky one', () => {
    fc.assert(
      fc.property(fc.array(test01, { maxLength: 12 }), (told) => {
        const settled = settleRepeats(told)
        expect(new Set(settled.map(({ suite, name }) => JSON.stringify([suite, name]))).size).toBe(settled.length)
        const failures = (tests: readonly TestCase[]) => tests.filter(({ outcome }) => outcome === 'failed' || outcome === 'flaky').length
        if (!settled.some(({ outcome }) => outcome === 'flaky')) expect(settled).toHaveLength(told.length)
        expect(failures(settled) > 0).toBe(failures(told) > 0)
      }),
    )
  })

  const coverage = fc.uniqueArray(fc.integer({ min: 1, max: 40 })).chain((numbers) =>
    fc.subarray(numbers).map((covered) => ({
      covered: covered.sort((a, b) => a - b),
      missed: numbers.filter((n) => !covered.includes(n)).sort((a, b) => a - b),
    })),
  )

  test('uniting reports of a file does not depend on order or repetition, and ranges hold what was put in', () => {
    fc.assert(
      fc.property(coverage, coverage, coverage, (a, b, c) => {
        expect(uniteCoverage(a, b)).toEqual(uniteCoverage(b, a))
        expect(uniteCoverage(uniteCoverage(a, b), c)).toEqual(uniteCoverage(a, uniteCoverage(b, c)))
        expect(uniteCoverage(a, a)).toEqual(a)
        expect(fromRanges(toRanges(a.covered))).toEqual(a.covered)
      }),
    )
  })

  test('whatever bytes come, a reader takes them or refuses them in words', () => {
    const beginnings = fc.constantFrom(
      '<testsuite>',
      '<coverage>',
      '{"results":{',
      '{"version":"2.1.0","runs":[',
      'TAP version 14\n',
      'SF:',
      '<report>',
      '',
    )
    fc.assert(
      fc.property(
        fc.constantFrom<ReportFormat>('junit', 'tap', 'ctrf', 'cobertura', 'lcov', 'jacoco', 'clover', 'sarif'),
        beginnings,
        fc.uint8Array({ maxLength: 200 }),
        (format, begin, rest) => {
          try {
            readReport(format, new Uint8Array([...bytesOf(begin), ...rest]))
          } catch (error) {
            expect(error).toBeInstanceOf(ReportFormatError)
          }
        },
      ),
      { numRuns: 1500 },
    )
  })
})
