import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { readTrace } from './read-trace.js'
import { decisiveException } from './statement.js'
import type { Trace } from './trace.js'

/** Frames as `function file:line`, own ones marked. */
const lines = (trace: Trace) =>
  trace.exception.frames.map((frame) => `${frame.isApp ? '* ' : ''}${frame.function ?? '?'} ${frame.file ?? '?'}:${frame.line ?? '?'}`)
const chain = (trace: Trace) => {
  const types: string[] = []
  for (let one: Trace['exception'] | null = trace.exception; one; one = one.cause) types.push(`${one.type}: ${one.message}`)
  return types
}

describe('Firefox and Safari', () => {
  test('name a function before an at sign', () => {
    const trace = readTrace(
      'drawCurve/<@https://studio.emberwick.example/curve.js?v=3:12:7\n' +
        'async*load@https://studio.emberwick.example/curve.js:30:1\n@https://studio.emberwick.example/page.js:4:2\n',
      { type: 'TypeError', message: 'kiln is undefined' },
    )
    expect(trace.language).toBe('javascript')
    expect(lines(trace)).toEqual([
      '* drawCurve https://studio.emberwick.example/curve.js:12',
      '* load https://studio.emberwick.example/curve.js:30',
      '* ? https://studio.emberwick.example/page.js:4',
    ])
    expect(trace.exception.frames[1]?.isAsync).toBe(true)
    const safari = readTrace(
      'heat@https://studio.emberwick.example/a.js:1:2\nforEach@[native code]\nglobal code@https://studio.emberwick.example/a.js:9:1',
    )
    expect(lines(safari).map((line) => line.startsWith('*'))).toEqual([true, false, true])
  })
})

describe('Node.js', () => {
  test('gathers errors, prints older causes like properties', () => {
    const trace = readTrace(
      `AggregateError: All kilns failed
    at fireAll (/srv/kiln/src/fire.js:7:9) {
  [errors]: [
    RangeError: too hot
        at heat (/srv/kiln/src/heat.js:3:1),
    Error: door open
        at check (/srv/kiln/src/door.js:4:1)
  ]
}`,
    )
    expect(trace.exception.members?.map((member) => [member.type, member.message, member.frames[0]?.function])).toEqual([
      ['RangeError', 'too hot', 'heat'],
      ['Error', 'door open', 'check'],
    ])
    expect(
      chain(readTrace('FireError: outer\n    at a (/srv/k/a.js:1:1) {\n  cause: TypeError: inner\n      at b (/srv/k/b.js:2:2)\n}')),
    ).toEqual(['FireError: outer', 'TypeError: inner'])
  })
})

describe('Python', () => {
  test('prints the oldest exception of a chain first, calls from the outside in, and the source', () => {
    const trace = readTrace(`Exception in thread Thread-3 (fire):
Traceback (most recent call last):
  File "/srv/kiln/fire.py", line 12, in heat
    return STEPS[name]
           ~~~~~^^^^^^
KeyError: 'soak'

The above exception was the direct cause of the following exception:

Traceback (most recent call last):
  File "/usr/lib/python3.12/threading.py", line 1075, in _bootstrap_inner
    self.run()
  File "/srv/kiln/fire.py", line 20, in plan
    raise PlanError(f"no step {name}") from error
kiln.PlanError: no step soak
in two lines
`)
    expect(lines(trace)).toEqual(['* plan /srv/kiln/fire.py:20', '_bootstrap_inner /usr/lib/python3.12/threading.py:1075'])
    expect(chain(trace)).toEqual(['kiln.PlanError: no step soak\nin two lines', "KeyError: 'soak'"])
    expect(trace.exception.cause).toMatchObject({ thread: 'Thread-3 (fire)', frames: [{ source: 'return STEPS[name]' }] })
    expect(decisiveException(trace.exception).type).toBe('KeyError')
  })

  test('an error while another one is handled decides itself, unless it is a throw', () => {
    const text = (source: string) => `Traceback (most recent call last):
  File "/srv/kiln/a.py", line 3, in read
    open(path)
OSError: gone

During handling of the above exception, another exception occurred:

Traceback (most recent call last):
  File "/srv/kiln/a.py", line 5, in read
    ${source}
ValueError: bad
`
    expect(decisiveException(readTrace(text('raise ValueError("bad")')).exception).type).toBe('OSError')
    expect(decisiveException(readTrace(text('int(fallback)')).exception).type).toBe('ValueError')
  })

  test('groups of exceptions keep their members, those of members too', () => {
    const trace = readTrace(`  + Exception Group Traceback (most recent call last):
  |   File "/srv/kiln/all.py", line 9, in fire_all
  |     async with TaskGroup() as group:
  | ExceptionGroup: unhandled errors in a TaskGroup (2 sub-exceptions)
  +-+---------------- 1 ----------------
    | Traceback (most recent call last):
    |   File "/srv/kiln/all.py", line 4, in fire
    |     raise ValueError("cold")
    | ValueError: cold
    +---------------- 2 ----------------
    | Exception Group Traceback (most recent call last):
    |   File "/srv/kiln/all.py", line 6, in inner
    |     raise group
    | ExceptionGroup: inner (1 sub-exception)
    +-+---------------- 1 ----------------
      | TypeError: never raised
      +------------------------------------
`)
    expect(trace.exception).toMatchObject({ type: 'ExceptionGroup', frames: [{ function: 'fire_all', line: 9 }] })
    expect(trace.exception.members?.map((member) => [member.type, member.frames.length])).toEqual([
      ['ValueError', 1],
      ['ExceptionGroup', 1],
    ])
    expect(trace.exception.members?.[1]?.members?.map((member) => `${member.type}: ${member.message}`)).toEqual(['TypeError: never raised'])
  })

  test('counts what recursion repeats; a mistake of syntax is no call', () => {
    const trace = readTrace(`Traceback (most recent call last):
  File "/srv/kiln/tree.py", line 2, in depth
    return depth(node)
  [Previous line repeated 995 more times]
RecursionError: maximum recursion depth exceeded
`)
    expect(trace.exception.hiddenFrames).toBe(995)
    expect(
      lines(
        readTrace(
          'Traceback (most recent call last):\n  File "/srv/k/a.py", line 1, in load\n    compile(text)\n' +
            '  File "<rule>", line 2\n    x ><\nSyntaxError: invalid syntax\n',
        ),
      ),
    ).toEqual(['* load /srv/k/a.py:1'])
  })
})

describe('the Java machine', () => {
  test('causes stand at the depth of what they caused, suppressed ones deeper; frames in common are counted', () => {
    const trace = readTrace(`Exception in thread "kiln-2" com.emberwick.FireException: cannot fire
\tat com.emberwick.Kiln.fire(Kiln.java:31)
\tat java.base/java.lang.Thread.run(Thread.java:1583)
\tSuppressed: java.io.IOException: door log
\t\tat com.emberwick.Door.close(Door.java:8)
\t\t... 1 more
\t\tCaused by: java.lang.IllegalStateException: no file
\t\t\tat com.emberwick.Door.file(Door.java:3)
Caused by: java.lang.NullPointerException
\tat app//com.emberwick.Probe.lambda$read$0(Probe.kt:12)
\tat com.emberwick.Proxy$$EnhancerBySpringCGLIB$$1a2b.read(<generated>)
\t... 4 more
`)
    expect(trace.exception.thread).toBe('kiln-2')
    expect(lines(trace)).toEqual([
      '* com.emberwick.Kiln.fire com/emberwick/Kiln.java:31',
      'java.lang.Thread.run java/lang/Thread.java:1583',
    ])
    expect(chain(trace)).toEqual(['com.emberwick.FireException: cannot fire', 'java.lang.NullPointerException: '])
    expect(trace.exception.suppressed?.[0]).toMatchObject({
      type: 'java.io.IOException',
      hiddenFrames: 1,
      cause: { type: 'java.lang.IllegalStateException' },
    })
    expect(trace.exception.cause).toMatchObject({
      hiddenFrames: 4,
      frames: [{ file: 'com/emberwick/Probe.kt', isApp: true }, { isApp: false }],
    })
  })
})

describe('Go', () => {
  test('what stands above the panic is its recovery; the first goroutine failed', () => {
    const trace = readTrace(`goroutine 7 [running]:
runtime/debug.Stack()
\t/usr/local/go/src/runtime/debug/stack.go:24 +0x5e
main.guard.func1()
\t/srv/kiln/main.go:9 +0x4a
panic({0x4b, 0x5})
\t/usr/local/go/src/runtime/panic.go:770 +0x132
emberwick.example/kiln/probe.(*Probe).Read(0x0, {0xc0, 0x4})
\t/srv/kiln/probe/probe.go:41 +0x1d
created by main.main in goroutine 1
\t/srv/kiln/main.go:30 +0x88

goroutine 1 [chan receive]:
main.main()
\t/srv/kiln/main.go:33 +0x9
`)
    expect(lines(trace)).toEqual(['* emberwick.example/kiln/probe.(*Probe).Read /srv/kiln/probe/probe.go:41'])
    expect(
      readTrace('panic: too hot: 1400 [recovered]\n\tpanic: again\n\ngoroutine 1 [running]:\nmain.main()\n\t/srv/kiln/main.go:3 +0x1\n')
        .exception.message,
    ).toBe('too hot: 1400')
  })
})

describe('.NET and Mono', () => {
  test('inner exceptions are printed first; what the compiler made is called by its method', () => {
    const trace = readTrace(`Unhandled exception. Emberwick.FireException: outer
 ---> System.FormatException: no number
   at System.Int32.Parse(String s)
   at Emberwick.Plan.ReadStep(String text) in /srv/kiln/Plan.cs:line 12
   --- End of inner exception stack trace ---
   at Emberwick.Kiln.<FireAsync>d__4.MoveNext() in /srv/kiln/Kiln.cs:line 40
--- End of stack trace from previous location where exception was thrown ---
   at Emberwick.Program.<>c.<Main>b__0_1() in /srv/kiln/Program.cs:line 7
`)
    expect(trace.language).toBe('csharp')
    expect(lines(trace)).toEqual(['* Emberwick.Kiln.FireAsync /srv/kiln/Kiln.cs:40', '* Emberwick.Program.Main /srv/kiln/Program.cs:7'])
    expect(trace.exception.cause?.frames.map((frame) => frame.isApp)).toEqual([false, true])
    expect(chain(trace)).toEqual(['Emberwick.FireException: outer', 'System.FormatException: no number'])
    const mono = readTrace(
      '\nUnhandled Exception:\nSystem.Exception: x\n  at Kiln.Fire (System.String a) [0x00002] in /srv/k/Kiln.cs:5 \n' +
        '[ERROR] FATAL UNHANDLED EXCEPTION: System.Exception: x\n  at Kiln.Fire (System.String a) [0x00002] in /srv/k/Kiln.cs:5 \n',
    )
    expect(lines(mono)).toEqual(['* Kiln.Fire /srv/k/Kiln.cs:5'])
  })
})

describe('Ruby', () => {
  test('names the type in brackets behind the message; causes follow; either quote', () => {
    const trace = readTrace(`/srv/kiln/lib/fire.rb:9:in 'Kiln#fire': cannot fire (FireError)
\tfrom /srv/kiln/main.rb:3:in '<main>'
/srv/kiln/lib/probe.rb:4:in \`read': undefined method \`celsius' for nil:NilClass (NoMethodError)

    probe.celsius
         ^^^^^^^^
\tfrom /usr/lib/ruby/3.1.0/set.rb:5:in \`each'
`)
    expect(lines(trace)).toEqual(['* Kiln#fire /srv/kiln/lib/fire.rb:9', '* <main> /srv/kiln/main.rb:3'])
    expect(trace.exception).toMatchObject({ type: 'FireError', message: 'cannot fire', cause: { type: 'NoMethodError' } })
    expect(trace.exception.cause?.frames.map((frame) => frame.isApp)).toEqual([true, false])
  })
})

describe('PHP', () => {
  test('calls are named at the place they were made from; Next begins the one thrown because of it', () => {
    const trace = readTrace(`PHP Fatal error:  Uncaught TypeError: no kiln in /srv/shop/src/Kiln.php:8
Stack trace:
#0 /srv/shop/src/Shop.php(20): Shop\\Kiln->heat(NULL)
#1 [internal function]: Shop\\Shop->{closure}(1)
#2 {main}

Next Shop\\Failed: cannot sell in /srv/shop/src/Shop.php:24
Stack trace:
#0 /srv/shop/vendor/app/run.php(5): Shop\\Shop->sell()
#1 {main}
  thrown in /srv/shop/src/Shop.php on line 24
`)
    expect(chain(trace)).toEqual(['Shop\\Failed: cannot sell', 'TypeError: no kiln'])
    expect(lines(trace)).toEqual(['* Shop\\Shop->sell /srv/shop/src/Shop.php:24', '? /srv/shop/vendor/app/run.php:5'])
    expect(trace.exception.cause?.frames[0]).toMatchObject({ function: 'Shop\\Kiln->heat', line: 8 })
  })
})

describe('Rust', () => {
  test('with a back trace the frames behind the panic, without one the place of the panic', () => {
    const full = readTrace(`thread 'kiln-1' (77) panicked at src/probe.rs:14:9:
no probe
stack backtrace:
   0: rust_begin_unwind
             at /rustc/90b35a6239c3d8bdabc530a6a0816f7ff89a0aaf/library/std/src/panicking.rs:665:5
   1: core::panicking::panic_fmt
             at /rustc/90b35a6239c3d8bdabc530a6a0816f7ff89a0aaf/library/core/src/panicking.rs:74:14
   2: kiln::probe::read::h0123456789abcdef
             at ./src/probe.rs:14:9
   3: core::ops::function::FnOnce::call_once
             at /rustc/90b35a6239c3d8bdabc530a6a0816f7ff89a0aaf/library/core/src/ops/function.rs:250:5
note: Some details are omitted
`)
    expect(lines(full)).toEqual([
      '* kiln::probe::read ./src/probe.rs:14',
      'core::ops::function::FnOnce::call_once /rustc/90b35a6239c3d8bdabc530a6a0816f7ff89a0aaf/library/core/src/ops/function.rs:250',
    ])
    expect(full.exception).toMatchObject({ message: 'no probe', thread: 'kiln-1' })
    const old = readTrace(
      `thread 'main' panicked at 'too hot:\n1400', src/main.rs:4:5\n` +
        `note: run with \`RUST_BACKTRACE=1\` environment variable to display a backtrace\n`,
    )
    expect(old.exception.message).toBe('too hot:\n1400')
    expect(lines(old)).toEqual(['* ? src/main.rs:4'])
  })
})

test('Perl: each place lies in the function of the line below; the handler of die is left out', () => {
  const trace = readTrace(`Illegal division by zero at /srv/k/lib/Rate.pm line 47.
 at /srv/k/main.pl line 52.
\tmain::__ANON__("Illegal"...) called at /srv/k/lib/Rate.pm line 47
\tRate::of(Kiln=HASH(0x55), 0) called at /srv/k/main.pl line 28
\tmain::run("a") called at /srv/k/main.pl line 53
`)
  expect(lines(trace)).toEqual(['* Rate::of /srv/k/lib/Rate.pm:47', '* main::run /srv/k/main.pl:28', '* main /srv/k/main.pl:53'])
  expect(lines(readTrace("Can't locate kiln at /srv/k/a.pl line 3, <STDIN> line 7.\n"))).toEqual(['* ? /srv/k/a.pl:3'])
})

test('C and C++: debuggers and sanitizers, the first block alone, names without arguments', () => {
  const asan = readTrace(`==7==ERROR: AddressSanitizer: heap-use-after-free on address 0x60 at pc 0x1
READ of size 4 at 0x60 thread T0
    #0 0x5581 in kiln::Probe::read(std::vector<int, std::allocator<int>> const&) const /srv/kiln/src/probe.cpp:31:12
    #1 0x5582 in main /srv/kiln/src/main.cpp:9:3
    #2 0x7f12 in __libc_start_main (/lib/x86_64-linux-gnu/libc.so.6+0x29d8f)

freed by thread T0 here:
    #0 0x5583 in operator delete(void*) (/srv/kiln/kiln+0xd1)
`)
  expect(lines(asan)).toEqual([
    '* kiln::Probe::read /srv/kiln/src/probe.cpp:31',
    '* main /srv/kiln/src/main.cpp:9',
    '__libc_start_main ?:?',
  ])
  expect(asan.exception.type).toBe('AddressSanitizer: heap-use-after-free')
  const debuggers = readTrace(`terminate called after throwing an instance of 'kiln::TooHot'
  what():  1400 degrees
#0  0x00007f in raise () from /lib/libc.so.6
#1  0x000055 in kiln::heat<int> (limit=1300) at /srv/kiln/src/heat.cpp:12
`)
  expect(debuggers.exception).toMatchObject({ type: 'kiln::TooHot', message: '1400 degrees' })
  expect(lines(debuggers)).toEqual(['raise ?:?', '* kiln::heat /srv/kiln/src/heat.cpp:12'])
})

test('Swift, Dart and Elixir', () => {
  expect(lines(readTrace('KilnApp/Probe.swift:12: Fatal error: Unexpectedly found nil\n'))).toEqual(['* ? KilnApp/Probe.swift:12'])
  expect(
    lines(
      readTrace(
        'Fatal error: too hot\n0 [ra] 0x0001 closure #1 in heat() in KilnApp at /srv/k/Heat.swift:4:9\n' +
          '1 [ra] 0x0002 main in KilnApp at /srv/k/main.swift:2:1\n',
      ),
    ),
  ).toEqual(['* heat /srv/k/Heat.swift:4', '* main /srv/k/main.swift:2'])
  const dart = readTrace(
    'Unhandled exception:\nRangeError: index\n#0      List.[] (dart:core-patch/growable_array.dart:264:36)\n' +
      '#1      Plan.step.<anonymous closure> (package:kiln/plan.dart:8:3)\n<asynchronous suspension>\n',
  )
  expect(lines(dart).map((line) => line.startsWith('*'))).toEqual([false, true])
  expect(dart.exception).toMatchObject({ type: 'RangeError', frames: [{}, { function: 'Plan.step', isAsync: true }] })
  const elixir = readTrace(
    '** (KeyError) key :probe not found in: %{}\n    (kiln 0.1.0) lib/kiln/probe.ex:12: Kiln.Probe.read/1\n' +
      '    (stdlib 4.2) gen_server.erl:1123: :gen_server.try_dispatch/4\n',
  )
  expect(lines(elixir)).toEqual(['* Kiln.Probe.read lib/kiln/probe.ex:12', ':gen_server.try_dispatch gen_server.erl:1123'])
  expect(elixir.exception).toMatchObject({ type: 'KeyError', message: 'key :probe not found in: %{}' })
})

describe('any text', () => {
  const PIECES = [
    'Traceback (most recent call last):',
    '  File "/a.py", line 3, in f',
    '    at f (/a.js:1:2)',
    '  [cause]: Error: x',
    '  [errors]: [',
    '\tat a.B.c(D.java:1)',
    'Caused by: a.B: x',
    '\tSuppressed: a.B: y',
    '\t... 3 more',
    'goroutine 1 [running]:',
    'main.f({0x1})',
    '\t/a.go:3 +0x1',
    'panic({0x1})',
    '   at A.B(String c) in /a.cs:line 3',
    '   --- End of inner exception stack trace ---',
    "/a.rb:1:in `f': m (E)",
    "\tfrom /a.rb:2:in `g'",
    '#0 /a.php(3): f()',
    'Next E: m in /a.php:3',
    "thread 'm' panicked at a.rs:1:2:",
    'stack backtrace:',
    '   0: f',
    '             at a.rs:1:2',
    'm at /a.pl line 3.',
    '\tf(1) called at /a.pl line 4',
    '#0  0x01 in f (a=1) at /a.cpp:3',
    '    #1 0x02 in g /a.cpp:4:5',
    '#0      f (package:a/a.dart:1:2)',
    '** (E) m',
    '    (a 1.0) a.ex:3: A.f/1',
    '  +-+---------------- 1 ----------------',
    '    +------------------------------------',
    '  + Exception Group Traceback (most recent call last):',
    '',
    '}',
    'E: m',
    '(((((',
  ]
  test('of such lines in any order, cut anywhere, is read without failing, with numbers for lines', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...PIECES), { maxLength: 40 }), fc.nat(2000), (pieces, cut) => {
        const { exception } = readTrace(pieces.join('\n').slice(0, cut + 1))
        expect(exception.type).toBeTruthy()
        for (const frame of exception.frames) expect(frame.line === null || Number.isInteger(frame.line)).toBe(true)
      }),
      { numRuns: 1500 },
    )
  })

  test('of any characters is read without failing', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (text) => {
        expect(readTrace(text).exception.type).toBeTruthy()
      }),
    )
  })
})
