import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { groupTrace } from './grouping.js'
import { maskMessage } from './mask-message.js'
import { readTrace } from './read-trace.js'
import { tellOwnFrames } from './own-code.js'
import { pathOfFrame, TrackedFiles } from './tracked-files.js'

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
      'Error: outer\n    at a (/app/a.js:1:1) {\n  [cause]: RangeError: inner 7\n      at b (/app/b.js:2:2) {\n' +
        '    [cause]: Error: deep\n        at node:internal/x:1:1\n  }\n}',
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

describe('tracked files', () => {
  const tracked = new TrackedFiles([
    'src/probe.js',
    'probe.js',
    'lib/src/x.js',
    'core/src/main/java/org/emberwick/kiln/Kiln.java',
    'a/same.js',
    'b/same.js',
    'vendor/clay/clay.js',
  ])

  test.each([
    ['/srv/k-1/src/probe.js', 'src/probe.js'],
    ['C:\\app\\src\\probe.js', 'src/probe.js'],
    ['file:///srv/k-1/src/probe.js', 'src/probe.js'],
    ['https://studio.emberwick.example/src/probe.js?v=4', 'src/probe.js'],
    ['/srv/other.js', null],
    ['x.js', 'lib/src/x.js'],
    ['same.js', null],
    ['/srv/a/same.js', 'a/same.js'],
    ['/srv/node_modules/src/probe.js', null],
    ['/srv/vendor/clay/clay.js', 'vendor/clay/clay.js'],
    ['org/emberwick/kiln/Kiln.java', 'core/src/main/java/org/emberwick/kiln/Kiln.java'],
    ['com/emberwick/kiln/Kiln.java', null],
  ])('%j means %j', (printed, file) => expect(tracked.resolve(printed)).toBe(file))

  test('of several that fit, the one in the folder of the program wins', () => {
    expect(new TrackedFiles(['a/same.js', 'b/same.js'], 'b').resolve('same.js')).toBe('b/same.js')
    expect(new TrackedFiles(['a/same.js', 'b/same.js'], 'c').resolve('same.js')).toBeNull()
  })

  test('a class is looked for by its package', () => {
    const frame = { function: 'org.emberwick.kiln.Kiln$Door.open', file: 'Kiln.java', line: 3, column: null, isApp: false, isAsync: false }
    expect(pathOfFrame(frame, 'java')).toBe('org/emberwick/kiln/Kiln.java')
    expect(pathOfFrame({ ...frame, function: 'app//org.emberwick.kiln.Kiln.open' }, 'java')).toBe('org/emberwick/kiln/Kiln.java')
    expect(pathOfFrame({ ...frame, function: 'Kiln.open' }, 'java')).toBe('Kiln.java')
  })
})

describe('own frames', () => {
  const at = (file: string, name = 'f') => `    at ${name} (${file}:3:5)`
  const text = (...files: string[]) => ['Error: no', ...files.map((file) => at(file))].join('\n')
  const ownOf = (trace: string, code: Partial<Parameters<typeof tellOwnFrames>[1]>) =>
    tellOwnFrames(readTrace(trace), { tracked: null, own: [], foreign: [], ...code }).exception.frames.map((frame) => frame.isApp)

  test('are those whose file is tracked; what lies outside of the folder of the tracked ones is not ours', () => {
    const tracked = new TrackedFiles(['src/kiln.js', 'node_modules/ours/probe.js'])
    const trace = text('/opt/shared/log.js', '/srv/app/node_modules/ours/probe.js', '/srv/app/build/made.js', '/srv/app/src/kiln.js')
    expect(ownOf(trace, {})).toEqual([true, false, true, true])
    expect(ownOf(trace, { tracked })).toEqual([false, true, true, true])
    // Nothing of the trace is tracked: conventions decide.
    expect(ownOf(text('/opt/shared/log.js'), { tracked })).toEqual([true])
  })

  test('what people say wins, by paths and by packages, whole parts at a time', () => {
    const trace = text('/srv/app/src/vendor/clay.js', '/srv/app/src/vendors/clay.js', '/srv/app/node_modules/@emberwick/base/a.js')
    expect(ownOf(trace, { foreign: ['src/vendor'] })).toEqual([false, true, false])
    expect(ownOf(trace, { own: ['@emberwick'] })).toEqual([true, true, true])
    expect(ownOf(trace, { foreign: ['vendor*'] })).toEqual([false, false, false])
    const java = 'java.lang.IllegalStateException: no\n\tat org.clay.Wheel.turn(Wheel.java:4)\n\tat com.emberwick.Kiln.open(Kiln.java:7)'
    expect(ownOf(java, { foreign: ['org.clay'] })).toEqual([false, true])
    expect(ownOf(java, { foreign: ['org.cla'] })).toEqual([true, true])
    expect(ownOf(java, { foreign: ['/', '..'] })).toEqual([true, true])
  })

  test('the same trace comes back where nothing changes', () => {
    const trace = readTrace(text('/srv/app/src/kiln.js'))
    expect(tellOwnFrames(trace, { tracked: new TrackedFiles(['src/kiln.js']), own: [], foreign: ['lib'] })).toBe(trace)
  })
})
