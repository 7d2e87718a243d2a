import type { FindingKind } from './finding.js'

/** What a change may bring at most, and what its tests have to run at least; null where nothing is asked. */
export interface QualityLimits {
  /** New findings of each kind, and of any. */
  bugs: number | null
  weaknesses: number | null
  smells: number | null
  findings: number | null
  /** Minutes to mend what is new, less those of what is gone. */
  debtMinutes: number | null
  /** Of a hundred changed lines so many are run by tests at least. */
  changedCoverage: number | null
  /** Of a hundred lines of all so many fewer may be run than on the line that it goes to. */
  coverageFall: number | null
}
/** What a change brings, as far as it is known: null where nothing was reported that would say it. */
export interface QualityMeasures {
  /** Null where no report of findings came of its newest commit. */
  brought: Record<FindingKind, number> | null
  debtMinutes: number
  changedCoverage: number | null
  coverageFall: number | null
}

/** Nothing is asked. */
export const NO_LIMITS: QualityLimits = {
  bugs: null,
  weaknesses: null,
  smells: null,
  findings: null,
  debtMinutes: null,
  changedCoverage: null,
  coverageFall: null,
}

const COUNTED = { bugs: /^bugs?$/, weaknesses: /^weakness(?:es)?$/, smells: /^smells?$/, findings: /^findings?$/ } as const
const COUNT_MAX = 10_000
const DEBT_MINUTES_MAX = 60 * 1000

type Clause = Partial<QualityLimits> | string

/**
 * Reads what a change has to keep to as a sentence of parts that commas divide, such as `0 new bugs, 2 new smells, debt +35 min,
 * coverage of changed lines 80 %, coverage -0.5 %`. Gives the limits, or why a part is not understood, with that part. Linear.
 */
export function parseQuality(text: string): { limits: QualityLimits } | { why: string } {
  let limits = NO_LIMITS
  for (const part of text.split(/[,;]/)) {
    const words = part.trim().replace(/\s+/g, ' ').toLowerCase()
    if (words === '') continue
    const clause = readClause(words)
    if (typeof clause === 'string') return { why: `“${part.trim().slice(0, 80)}”: ${clause}` }
    const twice = Object.keys(clause).find((name) => limits[name as keyof QualityLimits] !== null)
    if (twice !== undefined) return { why: `“${part.trim().slice(0, 80)}”: this is said twice` }
    limits = { ...limits, ...clause }
  }
  return { limits }
}

function readClause(words: string): Clause {
  const counted = /^(?:at most )?(no|\d{1,6}) new (\w+)$/.exec(words)
  if (counted) return readCount(counted[1] ?? '', counted[2] ?? '')
  const debt = /^(?:(no) debt|debt \+?(.+))$/.exec(words)
  if (debt) return readDebt(debt[1] ?? debt[2] ?? '')
  const changed = /^coverage of changed lines (?:at least )?(\d{1,3}) ?%$/.exec(words)
  if (changed) {
    const percent = Number(changed[1])
    return percent <= 100 ? { changedCoverage: percent } : 'a hundred is all of them'
  }
  const fall = /^coverage -(\d{1,3}(?:\.\d)?) ?%$/.exec(words)
  if (fall) return Number(fall[1]) <= 100 ? { coverageFall: Number(fall[1]) } : 'a hundred is all of them'
  return 'it is not understood here. Say such as: 0 new bugs, 2 new smells, debt +35 min, coverage of changed lines 80 %, coverage -0.5 %'
}

function readCount(number: string, noun: string): Clause {
  const name = (Object.keys(COUNTED) as (keyof typeof COUNTED)[]).find((each) => COUNTED[each].test(noun))
  if (name === undefined) return `there are new bugs, weaknesses, smells and findings, but no ${noun}`
  const count = number === 'no' ? 0 : Number(number)
  return count <= COUNT_MAX ? { [name]: count } : `more than ${COUNT_MAX} asks for nothing`
}

function readDebt(text: string): Clause {
  if (text === 'no' || text === '0') return { debtMinutes: 0 }
  const read = /^(?:(\d{1,4}) ?h)?(?: ?(\d{1,5}) ?min)?$/.exec(text)
  if (!read || (read[1] === undefined && read[2] === undefined)) return 'say it in hours and minutes, such as debt +1 h 30 min'
  const minutes = Number(read[1] ?? 0) * 60 + Number(read[2] ?? 0)
  return minutes <= DEBT_MINUTES_MAX ? { debtMinutes: minutes } : 'more than a thousand hours asks for nothing'
}

/** Limits as the shortest sentence that says them; reading it again gives the same limits. */
export function qualityInWords(limits: QualityLimits): string {
  const { debtMinutes, changedCoverage, coverageFall } = limits
  return [
    ...(Object.keys(COUNTED) as (keyof typeof COUNTED)[]).flatMap((name) =>
      limits[name] === null ? [] : [`${limits[name]} new ${nounOf(name, limits[name])}`],
    ),
    ...(debtMinutes === null ? [] : [`debt +${hoursAndMinutes(debtMinutes)}`]),
    ...(changedCoverage === null ? [] : [`coverage of changed lines ${changedCoverage} %`]),
    ...(coverageFall === null ? [] : [`coverage -${coverageFall} %`]),
  ].join(', ')
}

/** What a change brings, as a sentence: `1 new bug, 2 new smells, debt +50 min`. */
export function broughtInWords({ brought, debtMinutes }: Pick<QualityMeasures, 'brought' | 'debtMinutes'>): string {
  if (brought === null) return 'no report of findings came'
  const parts = (
    [
      ['bugs', brought.bug],
      ['weaknesses', brought.weakness],
      ['smells', brought.smell],
    ] as const
  )
    .filter(([, count]) => count > 0)
    .map(([name, count]) => `${count} new ${nounOf(name, count)}`)
  const debt = debtMinutes === 0 ? [] : [`debt ${debtMinutes > 0 ? '+' : '−'}${hoursAndMinutes(Math.abs(debtMinutes))}`]
  return [...(parts.length > 0 ? parts : ['nothing new is found']), ...debt].join(', ')
}

/**
 * What of a change is beyond what it may bring, each as a part of a sentence; none where it keeps to all. What was asked for and never
 * reported is beyond it too: nothing shows that it holds.
 */
export function beyondQuality(limits: QualityLimits, measures: QualityMeasures): string[] {
  const { brought, debtMinutes, changedCoverage, coverageFall } = measures
  const asksForFindings = [limits.bugs, limits.weaknesses, limits.smells, limits.findings, limits.debtMinutes].some((each) => each !== null)
  const counts = brought && {
    bugs: brought.bug,
    weaknesses: brought.weakness,
    smells: brought.smell,
    findings: brought.bug + brought.weakness + brought.smell,
  }
  return [
    ...(asksForFindings && counts === null ? ['no report of findings came of its newest commit'] : []),
    ...(Object.keys(COUNTED) as (keyof typeof COUNTED)[]).flatMap((name) => {
      const [count, most] = [counts?.[name], limits[name]]
      if (count === undefined || most === null || count <= most) return []
      return [`${count} new ${nounOf(name, count)}, ${most === 0 ? 'none' : most} ${most > 1 ? 'are' : 'is'} allowed`]
    }),
    ...(counts !== null && limits.debtMinutes !== null && debtMinutes > limits.debtMinutes
      ? [`debt +${hoursAndMinutes(debtMinutes)}, +${hoursAndMinutes(limits.debtMinutes)} is allowed`]
      : []),
    ...coverageBeyond(limits.changedCoverage, changedCoverage),
    ...(limits.coverageFall === null
      ? []
      : coverageFall === null
        ? ['no coverage was reported to hold against that of the line that it goes to']
        : coverageFall > limits.coverageFall
          ? [`coverage fell by ${coverageFall} %, ${limits.coverageFall} % is allowed`]
          : []),
  ]
}

function coverageBeyond(least: number | null, percent: number | null): string[] {
  if (least === null) return []
  if (percent === null) return ['no coverage of its changed lines was reported']
  return percent < least ? [`tests run ${percent} % of its changed lines, ${least} % is asked for`] : []
}

function nounOf(name: keyof typeof COUNTED, count: number): string {
  if (count !== 1) return name
  return name === 'weaknesses' ? 'weakness' : name.slice(0, -1)
}

function hoursAndMinutes(minutes: number): string {
  const [hours, rest] = [Math.floor(minutes / 60), minutes % 60]
  return [hours > 0 ? `${hours} h` : '', rest > 0 || hours === 0 ? `${rest} min` : ''].filter(Boolean).join(' ')
}
