import { LRUCache } from 'lru-cache'
import { comparableValue, isComparable } from '@dystracer/core/faults/unusual'
import type { Attributes } from './read-otlp.js'

/** Of an attribute of a service so many values are told apart in a day; the rest is counted as one. */
const VALUES_MAX = 40
/** So many attributes of a service are counted. */
const ATTRIBUTES_MAX = 60
const NAMES_MAX = 5000
const OTHER = '…'
const HOUR_MS = 3_600_000

interface Counted {
  service: string
  attribute: string
  hour: number
  value: string
  count: number
}

/** One attribute of one service: which values were told apart today, and how often each was seen, hour by hour. */
interface AttributeCounts {
  seen: Set<string>
  hour: number
  now: Map<string, number>
  hours: Map<number, Map<string, number>>
}

/**
 * Counts the values of attributes in what a service does, to be held against those of its faults. What could
 * name a person is scrubbed before it leaves here. About a microsecond for each attribute of a record.
 */
export class TrafficValues {
  readonly #services = new Map<string, Map<string, AttributeCounts>>()
  readonly #comparable = new LRUCache<string, boolean>({ max: NAMES_MAX })
  #day = 0

  count(service: string, atMs: number, { resource, attributes }: { resource: Attributes; attributes: Attributes }): void {
    const hour = Math.floor(atMs / HOUR_MS)
    const day = Math.floor(hour / 24)
    if (day > this.#day) {
      // Yesterday's values make room for those of today.
      this.#day = day
      for (const known of this.#services.values()) for (const counts of known.values()) counts.seen.clear()
    }
    let known = this.#services.get(service)
    if (!known) {
      known = new Map()
      this.#services.set(service, known)
    }
    this.#countAll(known, hour, resource)
    this.#countAll(known, hour, attributes)
  }

  #countAll(known: Map<string, AttributeCounts>, hour: number, attributes: Attributes): void {
    for (const name in attributes) {
      let isKept = this.#comparable.get(name)
      if (isKept === undefined) {
        isKept = isComparable(name)
        this.#comparable.set(name, isKept)
      }
      const value = isKept ? comparableValue(attributes[name]) : null
      if (value === null) continue
      const counts = known.get(name) ?? (known.size < ATTRIBUTES_MAX ? begin(known, name) : null)
      if (counts !== null) countIn(counts, hour, value)
    }
  }

  /** What was counted since the last time, scrubbed by `scrub`. */
  drain(scrub: (name: string, value: string) => string): Counted[] {
    const counted: Counted[] = []
    for (const [service, known] of this.#services)
      for (const [attribute, counts] of known) {
        for (const [hour, values] of counts.hours)
          for (const [value, count] of values)
            counted.push({ service, attribute, hour, value: value === OTHER ? value : scrub(attribute, value), count })
        counts.hours.clear()
        counts.hour = -1
      }
    return counted
  }
}

function begin(known: Map<string, AttributeCounts>, name: string): AttributeCounts {
  const counts: AttributeCounts = { seen: new Set(), hour: -1, now: new Map(), hours: new Map() }
  known.set(name, counts)
  return counts
}

function countIn(counts: AttributeCounts, hour: number, given: string): void {
  let value = given
  if (!counts.seen.has(value)) {
    if (counts.seen.size < VALUES_MAX) counts.seen.add(value)
    else value = OTHER
  }
  if (counts.hour !== hour) {
    counts.hour = hour
    counts.now = counts.hours.get(hour) ?? new Map<string, number>()
    counts.hours.set(hour, counts.now)
  }
  counts.now.set(value, (counts.now.get(value) ?? 0) + 1)
}
