import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { groupTrace } from './grouping.js'
import { maskMessage } from './mask-message.js'
import { readTrace } from './read-trace.js'
import { resolveTrackedFile } from './resolve-file.js'

const NODE = `TypeError: Cannot read properties of undefined (reading 'celsius')
    at readCelsius (/srv/kiln-controller-4.1.3/src/probe.js:10:29)
    at async Object.run (file:///srv/kiln-controller-4.1.3/src/telemetry.js:23:7)
    at new Kiln [as create] (/srv/kiln-controller-4.1.3/src/kiln.js:3:1)
    at /srv/kiln-controller-4.1.3/node_modules/x/index.js:1:2
    at process.processTimers (node:internal/timers:519:7)`

describe('V8 traces', () => {
  test('type, message, functions, files, lines and columns are read; packages and the runtime are not ours', () => {
    const { language, exception } = readTrace(NODE)
    expect(language).toBe('javascript')
    expect(exception).toMatchObject({ type: 'TypeError', message: "Cannot read properties of undefined (reading 'celsius')", cause: null })
    expect(exception.frames.map((frame) => [frame.function, frame.file, frame.line, frame.column, frame.isApp, frame.isAsync])).toEqual([
      ['readCelsius', '/srv/kiln-controller-4.1.3/src/probe.js', 10, 29, true, false],
      ['run', '/srv/kiln-controller-4.1.3/src/telemetry.js', 23, 7, true, true],
      ['Kiln', '/srv/kiln-controller-4.1.3/src/kiln.js', 3, 1, true, false],
      [null, '/srv/kiln-controller-4.1.3/node_modules/x/index.js', 1, 2, false, false],
      ['process.processTimers', 'node:internal/timers', 519, 7, false, false],
    ])
  })

  test('causes stand below one another, and the deepest of our own decides the group', () => {
    const { exception } = readTrace(
      'Error: outer\n    at a (/app/a.js:1:1) {\n  [cause]: RangeError: inner 7\n      at b (/app/b.js:2:2) {\n    [cause]: Error: deep\n        at node:internal/x:1:1\n  }\n}',
    )
    expect(exception.cause).toMatchObject({ type: 'RangeError', message: 'inner 7' })
    expect(exception.cause?.cause?.type).toBe('Error')
    expect(groupTrace({ language: 'javascript', exception })).toMatchObject({ type: 'RangeError', maskedMessage: 'inner <number>' })
  })

  test('the printed head of a crash is skipped, messages may have several lines', () => {
    expect(readTrace('/app/a.js:3\n  throw x\n  ^\n\nError: first\nsecond\n    at f (/app/a.js:3:3)').exception).toMatchObject({
      type: 'Error',
      message: 'first\nsecond',
    })
  })

  test('code made at run time keeps its real place out of the own frames', () => {
    expect(
      readTrace('Error: x\n    at eval (eval at run (/app/a.js:1:2), <anonymous>:3:4)\n    at run (/app/a.js:1:2)').exception.frames.map(
        (frame) => frame.isApp,
      ),
    ).toEqual([false, true])
  })

  test('what attributes say wins over the text; a text that nothing understands keeps its first line', () => {
    expect(readTrace(NODE, { type: 'KilnError', message: 'm' }).exception).toMatchObject({ type: 'KilnError', message: 'm' })
    expect(readTrace('\n  Segmentation fault\n')).toMatchObject({
      language: 'unknown',
      exception: { type: 'Error', message: 'Segmentation fault', frames: [] },
    })
  })

  test('any text is read without failing', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.constantFrom(
            '    at f (a.js:1:2)',
            'at ',
            '[cause]: Error: x',
            '\n',
            '(',
            ')',
            ':',
            '{',
            '}',
            'Error: y',
            '   at async ',
            '<anonymous>',
          ),
          { maxLength: 60 },
        ),
        (parts) => {
          expect(readTrace(parts.join('')).exception.type).toBeTruthy()
        },
      ),
    )
  })
})

describe('grouping', () => {
  const keyOf = (text: string) => groupTrace(readTrace(text)).key
  test('another release, folder, line and caller make no other fault', () => {
    const moved = NODE.replaceAll('4.1.3', '4.1.4')
      .replaceAll('/srv/', '/opt/x/')
      .replace('probe.js:10:29', 'probe.js:14:31')
      .replace('telemetry.js:23:7', 'other.js:1:1')
    expect(keyOf(moved)).toBe(keyOf(NODE))
  })
  test('another function or another property is another fault', () => {
    expect(keyOf(NODE.replace('readCelsius', 'readVolts'))).not.toBe(keyOf(NODE))
    expect(keyOf(NODE.replace("'celsius'", "'volts'"))).not.toBe(keyOf(NODE))
  })
})

test.each([
  ['kiln 7 at 812.5 °C', 'kiln <number> at <number> °C'],
  ['id 3f2504e0-4f89-41d3-9a0c-0305e82c3301 gone', 'id <uuid> gone'],
  ['at 2026-11-24T09:00:00Z', 'at <time>'],
  ['mail ines@emberwick.example', 'mail <mail>'],
  ['GET https://x.example/7 failed', 'GET <url> failed'],
  ['to 10.0.0.1:80', 'to <address>'],
  ['pointer 0xdeadbeef', 'pointer <hex>'],
  ['commit 4e1b9d0a', 'commit <hex>'],
  ['name "Zoë" taken', 'name <text> taken'],
  ["cannot read 'x1'", "cannot read 'x1'"],
])('%j is masked as %j', (message, masked) => expect(maskMessage(message)).toBe(masked))

test('a frame finds its tracked file by the longest trailing path', () => {
  const tracked = new Set(['src/probe.js', 'probe.js', 'lib/src/x.js'])
  expect(resolveTrackedFile('/srv/k-1/src/probe.js', tracked)).toBe('src/probe.js')
  expect(resolveTrackedFile('C:\\app\\src\\probe.js', tracked)).toBe('src/probe.js')
  expect(resolveTrackedFile('/srv/other.js', tracked)).toBeNull()
})
