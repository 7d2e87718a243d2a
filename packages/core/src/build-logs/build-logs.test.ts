import { describe, expect, test } from '@jest/globals'
import { cutLines, LINE_CHARS_MAX } from './log-lines.js'
import { readNotableLine } from './notable-line.js'

const bytes = (text: string) => new TextEncoder().encode(text)
const lines = (text: string, isWhole = true) => cutLines(bytes(text), { isWhole }).lines

describe('the lines of a log', () => {
  test.each([
    ['line breaks of both kinds', 'a\r\nb\nc', ['a', 'b', 'c']],
    ['empty lines stay', 'a\n\nb\n', ['a', '', 'b']],
    ['a bar that counts up leaves its last state', '  1 %\r 50 %\r100 %\r\ndone\n', ['100 %', 'done']],
    ['colours stay', '\u001b[31mno\u001b[0m\u001b[38;5;12mx\u001b[m\n', ['\u001b[31mno\u001b[0m\u001b[38;5;12mx\u001b[m']],
    [
      'titles, links, moves and modes go',
      '\u001b]0;title\u0007a\u001b[2K\u001b[?25l\u001b]8;;http://x\u001b\\b\u001b(B\u001bMc\n',
      ['abc'],
    ],
    ['an escape without its end takes nothing with it', 'a\u001b[31\nb\u001b\n', ['a[31', 'b']],
    ['controls go, tabs stay', 'a\u0000\u0008\tb\u007f\u009b\n', ['a\tb']],
  ])('%s', (_name, text, expected) => {
    expect(lines(text)).toEqual(expected)
  })

  test('bytes after the last line break wait, unless they are the end', () => {
    const cut = cutLines(bytes('one\ntwo'))
    expect([cut.lines, new TextDecoder().decode(cut.rest)]).toEqual([['one'], 'two'])
    expect(lines('')).toEqual([])
    expect(cutLines(bytes('no end')).lines).toEqual([])
  })

  test('bytes that are no UTF-8 are replaced, and a line of megabytes is cut and says so', () => {
    expect(cutLines(new Uint8Array([0x61, 0xff, 0x62, 0x0a])).lines).toEqual(['a\ufffdb'])
    const [long] = lines(`${'x'.repeat(3_000_000)}\n`)
    expect(long).toBe(`${'x'.repeat(LINE_CHARS_MAX)} … 2996000 further characters`)
  })

  test('a log that is cut anywhere gives the same lines as in one', () => {
    const whole = bytes('npm ci\r\n\u001b[32m✔\u001b[0m kiln é\n\n  10 %\r100 %\nlast without end')
    const expected = cutLines(whole, { isWhole: true }).lines
    for (let cut = 0; cut <= whole.length; cut++) {
      const first = cutLines(whole.subarray(0, cut))
      const second = cutLines(new Uint8Array([...first.rest, ...whole.subarray(cut)]), { isWhole: true })
      expect([...first.lines, ...second.lines]).toEqual(expected)
    }
  })
})

describe('a line worth jumping to', () => {
  test.each([
    ['src/kiln.c:42:7: error: expected ‘;’', 'error', { path: 'src/kiln.c', line: 42 }],
    ["src/probe.ts(12,5): error TS2322: Type 'string' is not assignable", 'error', { path: 'src/probe.ts', line: 12 }],
    ['error[E0308]: mismatched types', 'error', null],
    ['  File "kiln/relay.py", line 9, in close', null, null],
    ['Traceback (most recent call last):', 'error', null],
    ['\u001b[31mTypeError: Cannot read properties of undefined\u001b[39m', 'error', null],
    ['java.lang.IllegalStateException: relay open', 'error', null],
    ['Exception in thread "main" java.lang.Error: at Kiln.java:3', 'error', { path: 'Kiln.java', line: 3 }],
    ['npm ERR! code ELIFECYCLE', 'error', null],
    ['npm error Missing script: "tset"', 'error', null],
    ['make: *** [Makefile:3: all] Error 2', 'error', null],
    ['not ok 3 - holds the temperature', 'error', null],
    ['not ok 4 - later # TODO', null, null],
    ['--- FAIL: TestRelay (0.00s)', 'error', null],
    ['FAILED tests/test_relay.py::test_close - assert 1 == 2', 'error', null],
    ['panic: runtime error: index out of range [3]', 'error', null],
    ['[ERROR] Failed to execute goal', 'error', null],
    ['sh: 1: kilnc: command not found', 'error', null],
    ['src\\glaze.cs(7,3): warning CS0168: The variable is never used', 'warning', { path: 'src/glaze.cs', line: 7 }],
    ['npm WARN deprecated left@1.0.0', 'warning', null],
    ['0 errors, 0 warnings', null, null],
    ['Tests: 0 failed, 12 passed', null, null],
    ['found no errors', null, null],
    ['Errors: 0', null, null],
    ['✖ failing tests:', null, null],
    ['✖ SAF-3: holds the temperature (7.8ms)', 'error', null],
    ['copying error-page.html', null, null],
    ['ok 3 - says an error in words', null, null],
    ['ran 12 tests of the failure page', null, null],
  ] as const)('%s', (line, kind, place) => {
    const notable = readNotableLine(line)
    expect(notable?.kind ?? null).toBe(kind)
    if (kind !== null) expect(notable?.place ?? null).toEqual(place)
  })

  test('takes no longer for lines made to be slow', () => {
    for (const piece of ['error ', 'a.b.', '(', 'E.', '0 ', 'warning[', 'x/', 'Error'])
      for (const end of ['', ':', '"', ', line 3']) {
        const line = piece.repeat(200_000 / piece.length) + end
        const beganAt = performance.now()
        readNotableLine(line)
        cutLines(bytes(`${'\u001b['.repeat(50_000)}${line}\n`))
        // Half a second is a hundred times what it takes; what grows with the square takes minutes.
        expect(performance.now() - beganAt).toBeLessThan(500)
      }
  })
})
