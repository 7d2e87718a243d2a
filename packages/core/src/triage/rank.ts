/** What the order of the queue looks at. */
export interface Waiting {
  key: string
  severity: number
  hasComeBack: boolean
  /** Its reporter answered the question that it waited for. */
  isAnswered: boolean
  peopleHit: number
  occurrences: number
  /** The release it was first seen in, if that is the newest of its service. */
  newIn: string | null
  waitedMs: number
}
/** Why an item waits where it does in the queue; its parts add up to the rank. */
export type RankReason =
  | { code: 'came-back' }
  | { code: 'answered' }
  | { code: 'severity'; severity: number }
  | { code: 'people'; count: number }
  | { code: 'occurrences'; count: number }
  | { code: 'new-in'; release: string }
  | { code: 'waits'; days: number }

const DAY_MS = 86_400_000
const AGED_AFTER_DAYS = 14
/** Each step of severity weighs twice the next one, so that neither age nor crowds alone outrank two steps. */
const WEIGHT = [0, 16, 8, 4, 2, 1] as const

/**
 * How urgent a decision is: the weight of its severity, raised by factors for what has come back, is answered, is new in the newest
 * release, hits many and has waited. Each factor only grows with
 * its fact, so that more evidence never sinks an item (a property test holds this). Cost: O(1).
 */
export function urgencyOf(item: Waiting): number {
  const crowd = 1 + Math.log2(1 + item.peopleHit) / 8 + Math.log10(1 + item.occurrences) / 8
  const age = 1 + Math.min(Math.max(item.waitedMs, 0) / DAY_MS, AGED_AFTER_DAYS) / AGED_AFTER_DAYS / 2
  return (
    (WEIGHT[item.severity] ?? WEIGHT[3]) *
    crowd *
    age *
    (item.hasComeBack ? 2 : 1) *
    (item.isAnswered ? 1.5 : 1) *
    (item.newIn === null ? 1 : 1.25)
  )
}

/** Why an item stands where it stands, the weightiest first. */
export function reasonsOf(item: Waiting): RankReason[] {
  const days = Math.floor(item.waitedMs / DAY_MS)
  return [
    ...(item.hasComeBack ? [{ code: 'came-back' } as const] : []),
    { code: 'severity', severity: item.severity },
    ...(item.isAnswered ? [{ code: 'answered' } as const] : []),
    ...(item.peopleHit > 0 ? [{ code: 'people', count: item.peopleHit } as const] : []),
    ...(item.occurrences > 0 && item.peopleHit === 0 ? [{ code: 'occurrences', count: item.occurrences } as const] : []),
    ...(item.newIn === null ? [] : [{ code: 'new-in', release: item.newIn } as const]),
    ...(days >= 2 ? [{ code: 'waits', days } as const] : []),
  ]
}

/** The queue, most urgent first; equals in the order of their keys, so that two people see one order. Cost: O(n log n). */
export function rankWaiting<Item extends Waiting>(items: readonly Item[]): Item[] {
  return items
    .map((item) => ({ item, urgency: urgencyOf(item) }))
    .sort((a, b) => b.urgency - a.urgency || (a.item.key < b.item.key ? -1 : 1))
    .map(({ item }) => item)
}
