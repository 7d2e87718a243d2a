import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from '@jest/globals'
import { groupFaults } from './fault-sites.js'
import { readTrace } from './read-trace.js'
import { failedStatement } from './statement.js'
import { StatementIndex } from './statement-index.js'
import { positionOf } from './statement-sites.js'

interface Sample {
  id: string
  bug: string
  runtime: string
  release: string
  atMs: number
  type: string
  message: string
  stacktrace: string
}
const SAMPLES = readFileSync(join(import.meta.dirname, '../../test-data/traces.jsonl'), 'utf8')
  .trim()
  .split('\n')
  .map((line) => JSON.parse(line) as Sample)
const traces = SAMPLES.map(({ id, release, atMs, type, message, stacktrace }) => {
  const [service = '', version = ''] = release.split('@')
  return { id, service, release: version, atMs, statement: failedStatement(readTrace(stacktrace, { type, message })) }
})
const bugById = new Map(SAMPLES.map((sample) => [sample.id, sample.bug]))

/** B-cubed precision and recall (Bagga and Baldwin, 1998) as their harmonic mean. */
function bCubed(groupById: ReadonlyMap<string, string>): number {
  const count = (keys: Iterable<string>) => {
    const counts = new Map<string, number>()
    for (const key of keys) counts.set(key, (counts.get(key) ?? 0) + 1)
    return counts
  }
  const pairs = [...groupById].map(([id, group]) => [bugById.get(id) ?? '', group] as const)
  const bugs = count(pairs.map(([bug]) => bug))
  const groups = count(pairs.map(([, group]) => group))
  const both = count(pairs.map((pair) => pair.join('\n')))
  const mean = (sizes: Map<string, number>, side: 0 | 1) =>
    pairs.reduce((sum, pair) => sum + (both.get(pair.join('\n')) ?? 0) / (sizes.get(pair[side]) ?? 1), 0) / pairs.length
  const [recall, precision] = [mean(bugs, 0), mean(groups, 1)]
  return (2 * recall * precision) / (recall + precision)
}

/** The groups of traces that arrive one after the other, with what turns out later carried out. */
function groupOneByOne(order: readonly (typeof traces)[number][]): Map<string, string> {
  const index = new StatementIndex()
  const seen: { id: string; fault: string; release: string; position: number; file: string }[] = []
  let names = 0
  for (const trace of order) {
    const { fault, moved } = index.assign(
      trace,
      () => `f${names++}`,
      () => `f${names++}`,
    )
    seen.push({ id: trace.id, fault, release: trace.release, position: positionOf(trace.statement), file: trace.statement.file })
    for (const { from, to, release, position, file } of moved)
      for (const one of seen)
        if (one.fault === from && one.release === release && one.position === position && one.file === file) one.fault = to
  }
  return new Map(seen.map(({ id, fault }) => [id, fault]))
}

/** An order that a seed decides (a linear congruential generator sorts). */
function shuffled<Value>(values: readonly Value[], seed: number): Value[] {
  let state = seed
  const next = () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0
    return state
  }
  return values
    .map((value) => ({ value, key: next() }))
    .sort((a, b) => a.key - b.key)
    .map(({ value }) => value)
}

describe('real traces of fourteen programs', () => {
  test('are one fault a bug', () => {
    expect(bCubed(groupFaults(traces))).toBe(1)
  })

  test('are read by a reader of their language, each with a frame of its own', () => {
    const unread = SAMPLES.filter(({ stacktrace, type, message }) => readTrace(stacktrace, { type, message }).language === 'unknown').map(
      (sample) => sample.id,
    )
    expect(unread).toEqual([])
    expect(traces.filter(({ statement }) => statement.frame?.isApp !== true).map((trace) => trace.id)).toEqual([])
  })

  test('are so one after the other as they came; a guard without a back trace does not tell its caller', () => {
    const told = traces.filter((trace) => trace.statement.function !== null)
    expect(bCubed(groupOneByOne([...told].sort((a, b) => a.atMs - b.atMs)))).toBe(1)
    expect(bCubed(groupOneByOne([...traces].sort((a, b) => a.atMs - b.atMs)))).toBeGreaterThan(0.97)
  })

  test.each([1, 2, 3, 4, 5, 6])('are nearly so in any order (%d)', (seed) => {
    expect(bCubed(groupOneByOne(shuffled(traces, seed)))).toBeGreaterThan(0.94)
  })
})

describe('statements told one after the other', () => {
  const at = (release: string, line: number) => ({
    service: 'kiln',
    release,
    statement: failedStatement(
      readTrace(`TypeError: gone\n    at split (/srv/kiln/src/shelf.js:${line}:9)\n    at main (/srv/kiln/src/main.js:4:1)`),
    ),
  })
  const faultsOf = (index: StatementIndex) => {
    let names = 0
    return (trace: Parameters<StatementIndex['assign']>[0]) => {
      const { fault, moved } = index.assign(
        trace,
        () => `new ${++names}`,
        (site) => `site ${site.position / 1_000_000}`,
      )
      return [fault, ...moved.map(({ from, to, position }) => `${position / 1_000_000}: ${from} to ${to}`)]
    }
  }

  test('are put right when the order of their lines becomes known', () => {
    const tell = faultsOf(new StatementIndex())
    expect([tell(at('1', 10)), tell(at('1', 20))]).toEqual([['new 1'], ['new 2']])
    // The lower of the two comes first and is taken for the upper one.
    expect(tell(at('2', 45))).toEqual(['new 1'])
    expect(tell(at('2', 35))).toEqual(['new 1', '45: new 1 to new 2'])
    expect([tell(at('2', 35)), tell(at('2', 45))]).toEqual([['new 1'], ['new 2']])
  })

  test('stay where people put them', () => {
    const index = new StatementIndex()
    const tell = faultsOf(index)
    tell(at('1', 10))
    tell(at('1', 20))
    tell(at('2', 45))
    index.hold(['new 1', 'new 2'])
    expect(tell(at('2', 35))).toEqual(['new 2'])
  })

  test('by a trace without a function belong to the function’s as soon as one names it', () => {
    const perl = (release: string, line: number, caller: string | null) => {
      const text = `gone at /srv/kiln/lib/Shelf.pm line ${line}.${
        caller === null ? '' : `\n\tShelf::${caller}("x") called at /srv/kiln/main.pl line 4`
      }\n`
      return { service: 'kiln', release, statement: failedStatement(readTrace(text, { type: 'die', message: 'gone' })) }
    }
    const tell = faultsOf(new StatementIndex())
    expect(tell(perl('1', 10, 'split'))).toEqual(['new 1'])
    expect(tell(perl('2', 17, null))).toEqual(['new 2'])
    expect(tell(perl('2', 17, 'split'))).toEqual(['new 1', '17: new 2 to new 1'])
    expect(tell(perl('2', 17, null))).toEqual(['new 1'])
    expect(tell(perl('3', 30, null))).toEqual(['new 3'])
    expect(tell(perl('3', 30, 'reserve'))).toEqual(['new 3'])
  })
})
