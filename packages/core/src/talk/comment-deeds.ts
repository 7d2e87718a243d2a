import type { References } from '#text/references'
import { isDay } from '#setup/own-field'

/** What the trailers of a comment will do. */
export type Deed =
  | { kind: 'owner'; personId: string; name: string }
  | { kind: 'severity'; value: number }
  | { kind: 'label'; label: string }
  | { kind: 'due'; on: string }
  | { kind: 'time'; minutes: number; on: string | null }
/** A trailer that will do nothing, and why. */
export interface DeedRefusal {
  trailer: string
  code: 'no-such-person' | 'not-a-severity' | 'not-a-day' | 'too-long' | 'too-much-time'
}
/** A person whom a trailer in a comment can name. */
export interface DeedPerson {
  personId: string
  name: string
}

const TIME_MAX_MINUTES = 10_000

/**
 * Turns the references of a comment into deeds, by the same code for the preview and for the act. People are named by id, by full name or
 * by a first name that only one has.
 * `Owner: ines` gives `{ kind: 'owner', personId: 'ines' }`.
 */
export function deedsOf(
  refs: Pick<References, 'fields' | 'times'>,
  people: readonly DeedPerson[],
): { deeds: Deed[]; refused: DeedRefusal[] } {
  const deeds: Deed[] = []
  const refused: DeedRefusal[] = []
  for (const { name, value } of refs.fields) {
    const trailer = `${name}: ${value}`
    if (name === 'owner') {
      const person = findPerson(people, value)
      if (person) deeds.push({ kind: 'owner', personId: person.personId, name: person.name })
      else refused.push({ trailer, code: 'no-such-person' })
    } else if (name === 'severity') {
      if (/^[1-5]$/.test(value)) deeds.push({ kind: 'severity', value: Number(value) })
      else refused.push({ trailer, code: 'not-a-severity' })
    } else if (name === 'label') {
      for (const label of value
        .split(',')
        .map((part) => part.trim())
        .filter(Boolean)) {
        if (label.length <= 40) deeds.push({ kind: 'label', label })
        else refused.push({ trailer: `label: ${label}`, code: 'too-long' })
      }
    } else if (isDay(value)) deeds.push({ kind: 'due', on: value })
    else refused.push({ trailer, code: 'not-a-day' })
  }
  for (const time of refs.times) {
    if (Math.abs(time.minutes) > TIME_MAX_MINUTES) refused.push({ trailer: `time: ${time.minutes} min`, code: 'too-much-time' })
    else if (time.on !== null && !isDay(time.on)) refused.push({ trailer: `time on ${time.on}`, code: 'not-a-day' })
    else deeds.push({ kind: 'time', minutes: time.minutes, on: time.on })
  }
  return { deeds, refused }
}

function findPerson(people: readonly DeedPerson[], text: string): DeedPerson | undefined {
  const wanted = text.replace(/^@/, '').trim().toLowerCase()
  const exact = people.find((person) => person.personId === wanted || person.name.toLowerCase() === wanted)
  if (exact) return exact
  const byFirstName = people.filter((person) => person.name.toLowerCase().split(' ')[0] === wanted)
  return byFirstName.length === 1 ? byFirstName[0] : undefined
}

/** Ids of the people whom a text mentions as `@ines`; code, quotes and addresses do not mention. */
export function mentionsIn(maskedText: string, people: readonly DeedPerson[]): string[] {
  const known = new Set(people.map((person) => person.personId))
  const found = [...maskedText.matchAll(/(?<![\w.@/])@([a-z][a-z0-9._-]{0,60}[a-z0-9]|[a-z])\b/gi)].map((match) =>
    (match[1] ?? '').toLowerCase(),
  )
  return [...new Set(found)].filter((id) => known.has(id))
}
