import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { differingParts, readExpectedActual } from './expected-actual.js'
import { codeOfTest } from './test-code.js'

describe('what a test expected and got', () => {
  test.each([
    ['a strict comparison', 'Expected values to be strictly equal:\n\n0 !== 6\n', '6', '0'],
    ['a sentence with angle brackets', 'org.junit.ComparisonFailure: expected:<3> but was:<4>\n\tat A.b(A.java:7)', '3', '4'],
    ['a sentence with blanks', 'expected: <three kilns> but was: <four>', 'three kilns', 'four'],
    ['labelled lines', 'expect(received).toBe(expected)\n\nExpected: 3\nReceived: 4\n\n    at a.js:1:1', '3', '4'],
    ['labelled lines of another runner', '  Expected: 3\n  But was:  4', '3', '4'],
    ['left and right', 'assertion `left == right` failed\n  left: `4`\n right: `3`', '3', '4'],
    ['got and want', 'probe_test.go:12: got 4, want 3', '3', '4'],
    ['a chained sentence', 'AssertionError: expected 4 to equal 3', '3', '4'],
    ['an assertion that is printed', '    def test_a():\n>       assert read() == 3\nE       assert 4 == 3', '3', '4'],
    ['properties of what was thrown', "{\n  code: 'ERR_ASSERTION',\n  actual: 4,\n  expected: 3,\n  operator: 'strictEqual'\n}", '3', '4'],
    ['an unequal pair', 'AssertionError: 4 != 3', '3', '4'],
  ])('%s', (_, message, expected, actual) => {
    expect(readExpectedActual(message)).toEqual({ expected, actual })
  })

  test('a difference by lines is taken apart, until where the trace begins', () => {
    const node =
      'Expected values to be strictly deep-equal:\n+ actual - expected\n\n  {\n+   celsius: 20,\n-   celsius: 21,\n    kiln: 4\n  }\n'
    expect(readExpectedActual(node)).toEqual({
      expected: '  {\n  celsius: 21,\n    kiln: 4\n  }',
      actual: '  {\n  celsius: 20,\n    kiln: 4\n  }',
    })
    const other =
      'expect(received).toEqual(expected)\n\n- Expected  - 1\n+ Received  + 1\n\n' +
      '  Object {\n-   "a": 1,\n+   "a": 2,\n  }\n    at x (a.js:1:2)'
    expect(readExpectedActual(other)).toEqual({ expected: '  Object {\n  "a": 1,\n  }', actual: '  Object {\n  "a": 2,\n  }' })
  })

  test.each(['TypeError: x is not a function', '', 'timeout of 2000 ms', 'the kiln is - as expected - cold'])(
    '%j says neither',
    (message) => {
      expect(readExpectedActual(message)).toBeNull()
    },
  )

  test('the parts are both texts again, whatever they are', () => {
    const text = fc.string({ unit: fc.constantFrom('a', 'b', ' ', '\n', '{', '1'), maxLength: 60 })
    fc.assert(
      fc.property(text, text, (expected, actual) => {
        const parts = differingParts({ expected, actual })
        const without = (kind: string) => parts.flatMap((part) => (part.kind === kind ? [] : [part.text])).join('')
        expect([without('actual'), without('expected')]).toEqual([expected, actual])
      }),
    )
  })

  test('no message makes it slow or throws', () => {
    const hostile = fc.string({
      unit: fc.constantFrom('expected', ':', '<', '>', ' ', '\n', '+', '-', 'to', 'be', '!=', 'got', 'want'),
      maxLength: 4000,
    })
    fc.assert(fc.property(hostile, (message) => void readExpectedActual(message)))
  })
})

describe('the code of a test', () => {
  test('goes from its name to the end of its block', () => {
    const file = "import x\n\ntest('holds', () => {\n  one()\n\n  two()\n})\n\ntest('next', () => {\n  three()\n})\n"
    expect(codeOfTest(file, 'holds')).toEqual({ from: 3, lines: ["test('holds', () => {", '  one()', '', '  two()', '})'] })
    expect(codeOfTest(file, 'kiln › next')?.from).toBe(9)
    expect(codeOfTest(file, 'neither')).toBeNull()
  })

  test('of a language without brackets, and with a word that ends it', () => {
    expect(codeOfTest('def test_a():\n    one()\n\ndef test_b():\n    two()\n', 'test_a')?.lines).toEqual(['def test_a():', '    one()'])
    expect(codeOfTest("it 'rings' do\n  one\nend\nx", 'rings')?.lines).toEqual(["it 'rings' do", '  one', 'end'])
  })

  test('is cut where it is long', () => {
    expect(codeOfTest(`test('long', () => {\n${'  x\n'.repeat(200)}})`, 'long')?.lines.length).toBeLessThanOrEqual(41)
  })
})
