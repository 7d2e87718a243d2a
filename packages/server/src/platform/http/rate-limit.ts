import { LRUCache } from 'lru-cache'
import { Problem } from '@dystracer/core/basics/problem'

interface Bucket {
  tokens: number
  atMs: number
}
/** Of so many keys the oldest are forgotten first: a flood of others does not give anybody a full bucket. */
const BUCKETS_MAX = 10_000

/** A token bucket per key. `take` throws `too-many-requests` with Retry-After once a key has used up its burst faster than it refills. */
export class RateLimit {
  // Counted by size, not by number: for a number the cache takes all its room at once, in each of a dozen limits.
  readonly #buckets = new LRUCache<string, Bucket>({ maxSize: BUCKETS_MAX, sizeCalculation: () => 1 })
  readonly #burst: number
  readonly #perMinute: number

  constructor({ burst, perMinute }: { burst: number; perMinute: number }) {
    this.#burst = burst
    this.#perMinute = perMinute
  }

  take(key: string, nowMs: number): void {
    const bucket = this.#buckets.get(key) ?? { tokens: this.#burst, atMs: nowMs }
    // A clock that is set back takes nothing from anybody.
    bucket.tokens = Math.min(this.#burst, bucket.tokens + (Math.max(0, nowMs - bucket.atMs) / 60_000) * this.#perMinute)
    bucket.atMs = nowMs
    this.#buckets.set(key, bucket)
    if (bucket.tokens < 1) {
      const waitSeconds = Math.ceil(((1 - bucket.tokens) / this.#perMinute) * 60)
      throw new Problem('too-many-requests', {
        detail: `Try again in ${waitSeconds} seconds.`,
        headers: { 'retry-after': String(waitSeconds) },
      })
    }
    bucket.tokens -= 1
  }
}
