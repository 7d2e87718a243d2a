/** Values longer than this tell one occurrence from another, not one kind from another. */
const VALUE_MAX = 60
/** What names one thing, or measures it, is no kind either; releases and environments are counted by themselves. */
const PASSED_OVER = new RegExp(
  String.raw`^(?:exception|code|thread|process\.pid|telemetry|service\.(?:name|version|instance\.id)|deployment\.)|(?:^|` +
    `[._])(?:id|uuid|guid|pid|port|duration|time|timestamp|query|full|body|stack|stacktrace|trace|span|hash|digest|` +
    `token|session|email|address)$`,
  'i',
)
const INTEGER_MAX = 100_000

/** Whether records can be compared by an attribute of this name. */
export function isComparable(name: string): boolean {
  return name.length <= 100 && !PASSED_OVER.test(name)
}

/** A value by which records can be compared, as text: short texts, whole numbers, yes and no; null for any other. */
export function comparableValue(value: unknown): string | null {
  if (typeof value === 'string') return value !== '' && value.length <= VALUE_MAX ? value : null
  if (typeof value === 'boolean') return String(value)
  return typeof value === 'number' && Number.isInteger(value) && Math.abs(value) < INTEGER_MAX ? String(value) : null
}

/** The attributes of a record by which records can be compared, by name. */
export function comparableAttributes(attributes: Readonly<Record<string, unknown>>): [name: string, value: string][] {
  return Object.entries(attributes).flatMap(([name, given]): [string, string][] => {
    const value = isComparable(name) ? comparableValue(given) : null
    return value === null ? [] : [[name, value]]
  })
}

/** How often each value of an attribute was seen, and how often the attribute was. */
export type ValueCounts = ReadonlyMap<string, { total: number; values: ReadonlyMap<string, number> }>
/** A value that a fault has more often than what else the service does. */
export interface UnusualValue {
  attribute: string
  value: string
  own: number
  ownOf: number
  base: number
  baseOf: number
  /** How many times as often, with the bounds of 95 %. */
  ratio: number
  from: number
  to: number
}

/** Fewer occurrences are no pattern. */
const OWN_MIN = 5
/** From so many times as often on, in the lower bound, a value is worth eyes. */
const RATIO_MIN = 1.5
const Z = 1.96

/**
 * Which values of which attributes a fault has more often than the service's other traffic: the ratio of the
 * two shares with the interval on its logarithm (Katz et al., Biometrics 34, 1978), half a count added to
 * each so that a value that nothing else has gives a bound, too. The surest first. O(values).
 */
export function unusualValues(own: ValueCounts, base: ValueCounts, limit = 12): UnusualValue[] {
  const found: UnusualValue[] = []
  for (const [attribute, { total: ownOf, values }] of own) {
    const other = base.get(attribute)
    if (!other || other.total === 0) continue
    for (const [value, count] of values) {
      if (count < OWN_MIN) continue
      const seen = other.values.get(value) ?? 0
      const [a, b] = [(count + 0.5) / (ownOf + 1), (seen + 0.5) / (other.total + 1)]
      const error = Math.sqrt(Math.max(0, 1 / (count + 0.5) - 1 / (ownOf + 1) + 1 / (seen + 0.5) - 1 / (other.total + 1)))
      const ratio = a / b
      const from = ratio * Math.exp(-Z * error)
      if (from < RATIO_MIN) continue
      found.push({ attribute, value, own: count, ownOf, base: seen, baseOf: other.total, ratio, from, to: ratio * Math.exp(Z * error) })
    }
  }
  return found.sort((x, y) => y.from - x.from || (x.attribute < y.attribute ? -1 : 1)).slice(0, limit)
}

/** Counts values of attributes, record by record. */
export class ValueCounter {
  readonly counts = new Map<string, { total: number; values: Map<string, number> }>()

  add(attribute: string, value: string, times = 1): void {
    const known = this.counts.get(attribute) ?? { total: 0, values: new Map<string, number>() }
    known.total += times
    known.values.set(value, (known.values.get(value) ?? 0) + times)
    this.counts.set(attribute, known)
  }
}
