import { performance } from 'node:perf_hooks'
import { FAULT_VOCABULARY } from '@dystracer/core/faults/fault-filter'
import { PLAIN_DEED, type ReadRule } from '@dystracer/core/faults/intake-rule'
import { type FaultHistory, runRules } from '@dystracer/core/faults/run-rules'
import { parseFilterBy } from '@dystracer/core/filter/parse-filter'
import { CommitGraph } from '@dystracer/core/code/commit-graph'
import { middle } from './bench-history.js'
import { compareTips } from '@dystracer/core/code/compare-tips'

type Figures = Record<string, number>
const RULES = 200
const FAULTS = 2000
const MINUTES = 500
const PER_MINUTE = 10
const DAYS = 30
const DAY_MS = 86_400_000

/**
 * Intake rules: 200 of them over 2,000 faults as they come (each with its last hours), and one over thirty
 * days of 10 million occurrences, as a trial asks; beside a bare pass over the same counters.
 */
export async function benchRules(): Promise<Figures> {
  const nowMs = 1_790_000_000_000
  const past = Array.from({ length: FAULTS }, (_, number) => historyOf(number, nowMs, MINUTES, DAYS * 1440))
  const fresh = Array.from({ length: FAULTS }, (_, number) => historyOf(number, nowMs, 6, 60))
  const rules = Array.from({ length: RULES }, (_, at) =>
    ruleOf(`rule-${at}`, at % 2 === 0 ? `service=service-${at}` : `new path=src/part${at % 40} people>=2`, 5),
  )
  const one = [ruleOf('tried', 'new or returned', 5)]
  // The first run is that of a server that has just begun; what it comes to once it has run for a while is what a flood meets.
  const [first, evaluated] = timed(() => run(rules, fresh, nowMs, DAY_MS))
  const asked = middle(Array.from({ length: 15 }, () => timed(() => run(rules, fresh, nowMs, DAY_MS))[0]))
  const [tried] = timed(() => run(one, past, nowMs, DAYS * DAY_MS))
  const [bare] = timed(() => {
    let sum = 0
    for (const { environments } of past) for (const { minutes } of environments) for (const [, count] of minutes) sum += count
    return sum
  })
  return {
    rules: RULES,
    faultsPerSecondAtAllRules: Math.round(FAULTS / (asked / 1000)),
    faultsPerSecondAtFirst: Math.round(FAULTS / (first / 1000)),
    fired: evaluated,
    trialOccurrences: FAULTS * MINUTES * PER_MINUTE,
    trialMs: Math.round(tried),
    barePassMs: Math.round(bare * 10) / 10,
  }
}

function run(rules: readonly ReadRule[], histories: readonly FaultHistory[], nowMs: number, spanMs: number): number {
  return runRules(rules, histories, {
    fromMs: nowMs - spanMs,
    toMs: nowMs,
    hasFired: () => false,
    budgets: { logged: [], perHour: 10, perDay: 100 },
    standing: [],
  }).length
}

function timed(work: () => number): [ms: number, result: number] {
  const startedMs = performance.now()
  const result = work()
  return [performance.now() - startedMs, result]
}

function historyOf(number: number, nowMs: number, minutes: number, overMinutes: number): FaultHistory {
  const last = Math.floor(nowMs / 60_000)
  const step = overMinutes / minutes
  const seen = Array.from({ length: minutes }, (_, at) => [last - Math.floor((minutes - at) * step) + (number % 7), PER_MINUTE] as const)
  return {
    number,
    service: `service-${number % 50}`,
    repository: 'kiln',
    type: 'RangeError',
    message: `kiln ${number} has no reading`,
    path: `src/part${number % 40}.js`,
    function: `step${number % 40}`,
    place: `step${number % 40}@part${number % 40}.js`,
    severityNumber: 17,
    firstAtMs: (seen[0]?.[0] ?? last) * 60_000,
    lastBeforeMs: null,
    environments: [{ name: 'production', kind: 'production', minutes: seen }],
    releases: [{ release: '4.1.3', environment: 'production', firstAtMs: (seen[0]?.[0] ?? last) * 60_000 }],
    peopleMinutes: seen.slice(0, 20).map(([minute]) => minute),
    stands: [],
  }
}

function ruleOf(ruleId: string, where: string, countAtLeast: number): ReadRule {
  const parsed = parseFilterBy(FAULT_VOCABULARY, where)
  if (!('filter' in parsed)) throw new Error(`not understood: ${where}`)
  return {
    ruleId,
    name: ruleId,
    environmentKind: 'production',
    severityAtLeast: 'error',
    countAtLeast,
    windowMs: 600_000,
    peopleAtLeast: 0,
    where,
    deed: PLAIN_DEED,
    perHour: null,
    perDay: null,
    goesOn: true,
    isDraft: false,
    filter: parsed.filter,
  }
}

const COMMITS = 1_000_000
const APART = 5000

/**
 * What a release holds against another at a million commits, 5,000 apart with cherry-picks and reverts among
 * them; beside what is reachable alone.
 */
export async function benchReleases(): Promise<Figures> {
  const graph = new CommitGraph()
  // Spread as hashes are.
  const named = (number: number, last: string) => ((number * 2_654_435_761) % 2 ** 32).toString(16).padStart(8, '0').padEnd(39, '0') + last
  const sha = (number: number) => named(number, '0')
  for (let at = 0; at < COMMITS; at++)
    graph.add({
      sha: sha(at),
      parents: at === 0 ? [] : [sha(at - 1)],
      // One in a hundred of the newest carries a change that an older commit brought first, and one in five hundred takes one back.
      patchId: named(at > COMMITS - APART && at % 100 === 0 ? at - 20_000 : at, '1'),
      reverts: at > COMMITS - APART && at % 500 === 250 ? [sha(at - 3)] : [],
    })
  const [tip, base] = [sha(COMMITS - 1), sha(COMMITS - 1 - APART)]
  graph.isReachable(base, tip)
  const [reachMs, reached] = timed(() => graph.between([tip], [base]).size)
  const [firstMs, added] = timed(() => compareTips(graph, tip, base).added.length)
  const [againMs] = timed(() => compareTips(graph, tip, base).added.length)
  return {
    commits: COMMITS,
    commitsBetween: reached,
    changesAdded: added,
    contentsFirstMs: Math.round(firstMs),
    contentsMs: Math.round(againMs),
    reachableAloneMs: Math.round(reachMs * 10) / 10,
  }
}
