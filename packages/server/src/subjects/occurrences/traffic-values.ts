import { LRUCache } from 'lru-cache'
import { comparableAttributes } from '@dystracer/core/faults/unusual'
import type { Attributes } from './otlp/read-otlp.js'

/** Of an attribute of a service so many values are told apart in a day; the rest is counted as one. */
const VALUES_MAX = 40
/** So many attributes of a service are counted. */
const ATTRIBUTES_MAX = 60
const SCRUBBED_MAX = 20_000
const OTHER = '…'
const HOUR_MS = 3_600_000

interface Counted {
  service: string
  attribute: string
  hour: number
  value: string
  count: number
}

/**
 * Counts the values of attributes in what a service does, to be held against those of its faults. What could name a person is scrubbed as
 * everything is; each value once. A few map look-ups for each attribute of a record.
 */
export class TrafficValues {
  #counts = new Map<string, Counted>()
  readonly #known = new Map<string, Map<string, Set<string>>>()
  readonly #scrubbed = new LRUCache<string, string>({ max: SCRUBBED_MAX })
  #comparable = new WeakMap<Attributes, [string, string][]>()
  #day = 0

  count(
    service: string,
    atMs: number,
    { resource, attributes }: { resource: Attributes; attributes: Attributes },
    scrub: (name: string, value: string) => string,
  ): void {
    const day = Math.floor(atMs / (24 * HOUR_MS))
    if (day > this.#day) {
      // Yesterday's values make room for those of today.
      this.#day = day
      this.#known.clear()
    }
    const hour = Math.floor(atMs / HOUR_MS)
    let ofResource = this.#comparable.get(resource)
    if (!ofResource) {
      ofResource = comparableAttributes(resource)
      this.#comparable.set(resource, ofResource)
    }
    for (const [name, value] of ofResource) this.#add(service, hour, name, value, scrub)
    for (const [name, value] of comparableAttributes(attributes)) this.#add(service, hour, name, value, scrub)
  }

  #add(service: string, hour: number, attribute: string, raw: string, scrub: (name: string, value: string) => string): void {
    const known = this.#known.get(service) ?? new Map<string, Set<string>>()
    this.#known.set(service, known)
    const values = known.get(attribute) ?? new Set<string>()
    if (!known.has(attribute)) {
      if (known.size >= ATTRIBUTES_MAX) return
      known.set(attribute, values)
    }
    let value = OTHER
    if (values.has(raw) || values.size < VALUES_MAX) {
      values.add(raw)
      const key = `${attribute}\n${raw}`
      value = this.#scrubbed.get(key) ?? scrub(attribute, raw)
      this.#scrubbed.set(key, value)
    }
    const key = `${service}\n${attribute}\n${hour}\n${value}`
    const counted = this.#counts.get(key) ?? { service, attribute, hour, value, count: 0 }
    counted.count++
    this.#counts.set(key, counted)
  }

  /** What was counted since the last time. */
  drain(): Counted[] {
    const counted = [...this.#counts.values()]
    this.#counts = new Map()
    return counted
  }

  /** What is to be taken out changed: values are scrubbed anew. */
  forgetScrubbed(): void {
    this.#scrubbed.clear()
  }
}
