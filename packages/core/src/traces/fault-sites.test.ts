import { describe, expect, test } from '@jest/globals'
import { comparableFile, comparableFunction, isGuard } from './comparable.js'
import { enclosingFunction } from './enclosing-function.js'
import { groupFaults } from './fault-sites.js'
import { messageTemplate, templateLikeness } from './mask-message.js'
import { readTrace } from './read-trace.js'
import { failedStatement } from './statement.js'
import { aFrame } from './readers/frame.js'

/** Groups of traces, each said as `release: trace`, by their letters. */
function grouped(traces: Record<string, { release: string; text: string; type?: string; message?: string }>): string[] {
  const groups = groupFaults(
    Object.entries(traces).map(([id, { release, text, ...hints }], at) => ({
      id,
      service: 'kiln',
      release,
      atMs: at,
      statement: failedStatement(readTrace(text, hints)),
    })),
  )
  const byName = new Map<string, string[]>()
  for (const [id, name] of groups) byName.set(name, [...(byName.get(name) ?? []), id])
  return [...byName.values()].map((ids) => ids.sort().join('')).sort()
}
const java = (line: number, caller: number, method = 'header', message = ': null') =>
  `java.lang.NullPointerException${message}\n\tat com.emberwick.Bill.${method}(Bill.java:${line})\n` +
  `\tat com.emberwick.Bill.all(Bill.java:${caller})\n\tat com.emberwick.Main.main(Main.java:9)\n`

describe('a fault', () => {
  test('is a line within a release, and the same statement in the next, where lines have moved', () => {
    expect(
      grouped({
        a: { release: '1', text: java(17, 40) },
        b: { release: '1', text: java(18, 40) },
        c: { release: '2', text: java(23, 46) },
        d: { release: '2', text: java(24, 46) },
        e: { release: '3', text: java(31, 53) },
      }),
    ).toEqual(['ac', 'bde'])
  })

  test('is told from another of the same function by its source line, where the runtime prints it, whatever the lines', () => {
    const ruby = (line: number, source: string) =>
      `/srv/kiln/lib/bill.rb:${line}:in 'title': undefined method 'name' for nil (NoMethodError)\n\n` +
      `      ${source}\n              ^^^^^\n\tfrom /srv/kiln/main.rb:3:in '<main>'\n`
    expect(
      grouped({
        a: { release: '1', text: ruby(8, 'parts << owner.name') },
        b: { release: '2', text: ruby(8, 'parts << room.name') },
        c: { release: '2', text: ruby(6, 'parts << owner.name') },
      }),
    ).toEqual(['ac', 'b'])
  })

  test('behind a shared guard is its caller’s; a bug that two callers meet stays one', () => {
    const guarded = (caller: string, message: string, callerLine: number) =>
      `Error: ${message}\n    at requireField (/srv/kiln/lib/guard.js:3:9)\n` +
      `    at ${caller} (/srv/kiln/lib/book.js:${callerLine}:5)\n    at main (/srv/kiln/main.js:1:1)`
    const shared = (caller: string) =>
      `TypeError: x is not a function\n    at heat (/srv/kiln/lib/heat.js:7:2)\n    at ${caller} (/srv/kiln/lib/book.js:4:5)`
    expect(
      grouped({
        a: { release: '1', text: guarded('book', 'field is missing', 20) },
        b: { release: '1', text: guarded('cancel', 'field is missing', 30) },
        c: { release: '2', text: guarded('book', 'field is missing', 26) },
        d: { release: '1', text: shared('book') },
        e: { release: '1', text: shared('cancel') },
      }),
    ).toEqual(['ac', 'b', 'de'])
  })

  test('without a back trace is found by its line in the same release', () => {
    const full = (line: number, name: string) =>
      `thread 'main' panicked at src/bill.rs:${line}:9:\nno kiln\nstack backtrace:\n` +
      `   0: kiln::bill::${name}\n             at ./src/bill.rs:${line}:9\n`
    const bare = (line: number) => `thread 'main' panicked at /build/src/bill.rs:${line}:9:\nno kiln\nnote: run with it\n`
    expect(
      grouped({
        a: { release: '1', text: full(14, 'label') },
        b: { release: '1', text: bare(14) },
        c: { release: '1', text: full(40, 'total') },
        d: { release: '1', text: bare(40) },
      }),
    ).toEqual(['ab', 'cd'])
  })

  test('is not split by versions of the runtime, folders, or data in its message; nor by where recursion stops', () => {
    const node = (message: string, folder: string) =>
      `TypeError: ${message}\n    at read (${folder}/probe.js:4:11)\n    at main (${folder}/main.js:1:1)`
    expect(
      grouped({
        a: { release: '1', text: node("Cannot read property 'celsius' of undefined", '/srv/kiln/1.0') },
        b: { release: '1', text: node("Cannot read properties of undefined (reading 'celsius')", '/opt/kiln') },
        c: {
          release: '1',
          text: 'RangeError: Maximum call stack size exceeded\n    at depth (/srv/k/tree.js:4:1)\n    at depth (/srv/k/tree.js:6:1)',
        },
        d: {
          release: '1',
          text: 'RangeError: Maximum call stack size exceeded\n    at depth (/srv/k/tree.js:6:1)\n    at depth (/srv/k/tree.js:4:1)',
        },
      }),
    ).toEqual(['ab', 'cd'])
  })

  test('does not depend on the order in which equal times are given, and every trace has a group', () => {
    const traces = ['1', '2', '3'].flatMap((release, at) =>
      [10, 14].map((line) => ({
        id: `${release}-${line}`,
        service: 'kiln',
        release,
        atMs: at,
        statement: failedStatement(readTrace(java(line + 3 * at, 40 + 3 * at))),
      })),
    )
    const names = (list: typeof traces) => [...groupFaults(list)].sort().join(';')
    expect(names([...traces].reverse())).toBe(names(traces))
    expect(groupFaults(traces).size).toBe(traces.length)
  })
})

test.each([
  ["Cannot read properties of null (reading 'x')", 'read x of nothing'],
  ["undefined is not an object (evaluating 'kiln.probe.x')", 'read x of nothing'],
  ['t.slots is not iterable', 'slots is not iterable'],
  ['Unexpected token < in JSON at position 0', 'no JSON'],
  [`Unexpected token '<', "<!doctype "... is not valid JSON`, 'no JSON'],
  ["undefined method `name' for nil:NilClass", 'undefined method name'],
  ["undefined method 'name' for nil", 'undefined method name'],
  ["KeyError 'soak'", 'KeyError <text>'],
  ['cannot write to /var/lib/kiln/a-7/log.txt', 'cannot write to <path>'],
  ["it's cold and won't heat", "it's cold and won't heat"],
])('%j means %j', (message, template) => expect(messageTemplate(message)).toBe(template))

test('templates are as alike as the words that they share from either end', () => {
  expect(templateLikeness('cannot plan job <uuid>: curve ash', 'cannot plan job <uuid>: curve raku')).toBeCloseTo(5 / 6)
  expect(templateLikeness('door open', 'door open')).toBe(1)
  expect(templateLikeness('door open', 'too hot now')).toBe(0)
})

test.each([
  ['lambda$scenario$12', 'scenario'],
  ['main.main.func2', 'main'],
  ['block (2 levels) in each_title', 'each_title'],
  ['kilnctl::check::in_range::{{closure}}', 'in_range'],
  ['Studio::Booking#title', 'title'],
  ['KilnShop\\Basket->greeting', 'greeting'],
  ['job-56e76', 'job'],
  ['<listcomp>', null],
  ['{closure}', null],
])('the function %j is compared as %j', (name, comparable) => expect(comparableFunction(name)).toBe(comparable))

test.each([
  ['https://x.example/assets/main-VXF4UVRP.js?v=4', 'assets/main.js'],
  ['/srv/a/lib/probe.js', 'probe.js'],
  ['C:\\kiln\\src\\index.ts', 'src/index.ts'],
  ['app.3f9a2b1c.js', 'app.js'],
])('the file %j is compared as %j', (file, comparable) => expect(comparableFile(file)).toBe(comparable))

test.each([
  ['requireField', 'lib/x.js', true],
  ['com.emberwick.Guard.notBlank', 'Guard.java', true],
  ['kiln::check::in_range', 'src/check.rs', true],
  ['fetch!', 'tools.rb', true],
  ['Shop\\Need::key', 'Catalog.php', true],
  ['checkBatch', 'lib/remote.js', false],
  ['Importer::Job::check_total', 'Job.pm', false],
  ['checkout', 'payments.js', false],
  ['validateNotNull', 'x.js', true],
])('whether %j in %s is a guard: %j', (name, file, expected) =>
  expect(isGuard(aFrame({ function: name, file, line: 1, isApp: true }))).toBe(expected),
)

test('the function around a line of a script is found by its layout', () => {
  const text = `export class Cart {
  lines: Line[] = []

  lineCost(line: Line): number {
    if (line.qty !== 0) {
      cost += line.product.price
    }
    return cost
  }
}

const total = (cart: Cart) => {
  return cart.rows().length
}`.split('\n')
  expect([6, 8, 13, 1].map((line) => enclosingFunction(text, line))).toEqual(['lineCost', 'lineCost', 'total', null])
})
