import { maskMessage } from '#traces/mask-message'
import { readTrace } from '#traces/read-trace'
import type { Frame } from '#traces/trace'

/** A test that failed, with what it said. */
export interface FailedTest {
  suite: string
  name: string
  message: string
}
/** Tests that fail for one cause, likely: the largest group first. */
export interface FailureGroup {
  /** Places in the list of failures, in its order. */
  tests: number[]
  /** Where they fail, in code that is no test; null where the messages do not say. */
  place: { function: string | null; file: string; line: number | null } | null
  /** What they say alike, without what varies. */
  message: string
}

const TEST_FILE = /(?:^|[/\\._-])(?:tests?|specs?|__tests__)(?:[/\\._-]|$)/i
/** Words by which test frameworks say that two values differ: alike everywhere, so they join nothing by themselves. */
const SAYS_LITTLE = new Set(
  (
    'assertionerror assertion assert error failed failure expect expected received actual tobe toequal to be equal equals ' +
    'not but was were got value values strictly deep deeply object objects is of the a an that false true null none ' +
    'undefined truthy same identical two string strings are operator err_assertion line and in at with for on'
  ).split(' '),
)

/**
 * Failures of one build by likely common cause: those that fail at the same place of code that is no test (function and file of the
 * innermost own frame), and those that say the same once what varies is masked, where that says more than that two values differ. Both
 * relations join, so a group is what hangs together by either. Near linear in the length of the messages.
 */
export function groupFailures(failures: readonly FailedTest[]): FailureGroup[] {
  const parent = failures.map((_, at) => at)
  const rootOf = (at: number): number => {
    let root = at
    while (parent[root] !== root) root = parent[root] as number
    parent[at] = root
    return root
  }
  const firstByKey = new Map<string, number>()
  const seen = failures.map((failure) => signatureOf(failure))
  for (const [at, { keys }] of seen.entries())
    for (const key of keys) {
      const first = firstByKey.get(key)
      if (first === undefined) firstByKey.set(key, at)
      else parent[rootOf(at)] = rootOf(first)
    }
  const groups = new Map<number, number[]>()
  for (const at of failures.keys()) {
    const known = groups.get(rootOf(at))
    if (known) known.push(at)
    else groups.set(rootOf(at), [at])
  }
  return [...groups.values()]
    .map((tests) => ({
      tests,
      place: tests.map((at) => seen[at]?.place ?? null).find((place) => place !== null) ?? null,
      message: seen[tests[0] as number]?.message ?? '',
    }))
    .sort((a, b) => b.tests.length - a.tests.length || (a.tests[0] as number) - (b.tests[0] as number))
}

function signatureOf({ suite, message }: FailedTest): { keys: string[]; place: FailureGroup['place']; message: string } {
  const frame = ownFrameOf(message)
  const masked = maskMessage(firstLineOf(message))
  const keys: string[] = []
  if (frame) keys.push(`place ${fileOf(frame)} ${frame.function ?? frame.line ?? ''}`)
  if (masked !== '' && saysMuch(masked)) keys.push(`says ${masked}`)
  // Without a place, what says little still joins tests of one suite that say just the same.
  else if (masked !== '' && !frame) keys.push(`suite ${suite} says ${maskMessage(message)}`)
  return { keys, place: frame ? { function: frame.function, file: fileOf(frame), line: frame.line } : null, message: masked }
}

/** Whether a masked message holds a word beyond those by which frameworks say that values differ. */
function saysMuch(masked: string): boolean {
  return [...masked.replace(/<\w+>/g, ' ').matchAll(/[A-Za-z_]+/g)].some(([word]) => !SAYS_LITTLE.has(word.toLowerCase()))
}

/** The innermost frame of the program itself that is no test. */
export function ownFrameOf(message: string): Frame | null {
  return framesOf(message).find((frame) => frame.isApp && frame.file !== null && !TEST_FILE.test(frame.file)) ?? null
}

/** All frames that a failure prints, innermost first, its cause's before its own. */
export function framesOf(message: string): Frame[] {
  const { exception } = readTrace(message)
  return [...(exception.cause?.frames ?? []), ...exception.frames]
}

function fileOf({ file }: Frame): string {
  return (file ?? '')
    .replaceAll('\\', '/')
    .replace(/^.*?(?=(?:src|lib|app)\/)/, '')
    .replace(/^file:\/\//, '')
}

function firstLineOf(message: string): string {
  return (
    message
      .split('\n')
      .find((line) => line.trim() !== '')
      ?.trim() ?? ''
  )
}
