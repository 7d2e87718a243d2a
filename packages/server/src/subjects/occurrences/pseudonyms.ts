import { LRUCache } from 'lru-cache'
import { createHmac } from 'node:crypto'

const REMEMBERED_MAX = 10_000
const DIGITS = 16

/**
 * Gives people who are named in telemetry another name (HMAC-SHA-256 of RFC 2104 with a key of the installation alone): the same person is
 * the same one everywhere here, and nobody who sees the data can tell who it is, not by trying names either. 64 bits keep a million people
 * apart.
 */
export function makePseudonyms(key: string): (person: string) => string {
  const known = new LRUCache<string, string>({ max: REMEMBERED_MAX })
  return (person) => {
    if (person === '') return ''
    const before = known.get(person)
    if (before !== undefined) return before
    const name = `person-${createHmac('sha256', key).update(person).digest('hex').slice(0, DIGITS)}`
    known.set(person, name)
    return name
  }
}
