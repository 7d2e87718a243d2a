import { parseDurationMinutes } from './duration.js'
import { maskForeignText } from './masked-prose.js'
import { parseTrailers } from './trailers.js'

/** What a text says about items, requirements, time and other commits. */
export interface References {
  /** Item keys named anywhere, upper case, in order of first mention. */
  named: string[]
  /** Item keys named as fixed, by a trailer or a closing verb; a subset of `named`. */
  fixes: { key: string; by: 'trailer' | 'verb' }[]
  /** Requirement keys named by `Requirement:` or in prose. */
  requirements: string[]
  /** Requirement keys of `Verifies:`. */
  verifies: string[]
  times: { minutes: number; on: string | null }[]
  /** Hashes of commits that this one reverts: by trailer or in git's own prose. */
  reverts: string[]
  /** Hash of the commit that this one was picked from, in git's own prose. */
  pickedFrom: string | null
  /** Field trailers, which only act in comments and mail. */
  fields: { name: 'owner' | 'severity' | 'label' | 'due'; value: string }[]
}

/** The registry of prefixes that make a word a key. */
export interface KeyPrefixes {
  items: ReadonlySet<string>
  requirements: ReadonlySet<string>
}

const KEY = /(?<![\p{L}\p{N}_/.@-])([A-Z][A-Z0-9]{0,9})-([1-9]\d{0,8})(?![\p{L}\p{N}_]|-[\p{L}\p{N}])/gu
const CLOSING_VERB = /(?<![\p{L}\p{N}_-])(?:fix(?:e[sd])?|close[sd]?|resolve[sd]?)\s*:?\s+$/iu
const NEGATION = /(?:\b(?:not|never|without|cannot|no longer|instead of)|n['’]t)\s+(?:\w+\s+){0,2}$/iu
/** Trailers with a meaning of their own: their values are not read as prose again. */
const OWN_TRAILERS = new Set(['fixes', 'refs', 'requirement', 'verifies', 'time', 'reverts', 'owner', 'severity', 'label', 'due'])
const BETWEEN_KEYS = /^\s*(?:,|,?\s*and|&)\s*$/i
/**
 * What stands between two keys of one list, and what a duration is, is no longer than this; longer
 * texts are not held against the patterns.
 */
const BETWEEN_MAX = 40
const DURATION_MAX = 100

/**
 * Reads the one reference grammar (docs/rules.md#links and after). Only keys whose prefix is registered count; nothing inside code,
 * quotes or URLs does. A negated verb ties without closing. Linear in the length of the text.
 * `parseReferences('Resolves EMB-1, EMB-2', prefixes).fixes` holds both keys.
 */
export function parseReferences(text: string, prefixes: KeyPrefixes): References {
  const masked = maskForeignText(text.replace(/\r\n?/g, '\n'))
  const refs: References = {
    named: [],
    fixes: [],
    requirements: [],
    verifies: [],
    times: [],
    reverts: [],
    pickedFrom: null,
    fields: [],
  }
  readTrailers(masked, prefixes, refs)
  readProse(withoutOwnTrailers(masked), prefixes, refs)
  readGitProse(masked, refs)
  return refs
}

/** Whether a text names just this key, anywhere: `EMB-1` does not stand in `EMB-12`. */
export function namesKey(text: string, key: string): boolean {
  return new RegExp(`\\b${key}\\b`).test(text)
}

/** Item keys inside a branch name, whatever their case: `fix/emb-142-sensor-gap` gives `EMB-142`. Branch names never fix. */
export function keysInBranchName(branch: string, prefixes: KeyPrefixes): string[] {
  const keys: string[] = []
  for (const match of branch.toUpperCase().matchAll(/(?<![A-Z0-9])([A-Z][A-Z0-9]{0,9})-([1-9]\d{0,8})(?![A-Z0-9])/g)) {
    if (prefixes.items.has(match[1] ?? '')) addOnce(keys, `${match[1]}-${match[2]}`)
  }
  return keys
}

function readTrailers(text: string, prefixes: KeyPrefixes, refs: References): void {
  for (const trailer of parseTrailers(text)) {
    const name = trailer.name.toLowerCase()
    const keys = keysIn(trailer.value.toUpperCase())
    const items = keys.filter((key) => prefixes.items.has(prefixOf(key)))
    const requirements = keys.filter((key) => prefixes.requirements.has(prefixOf(key)))
    if (name === 'fixes') {
      for (const key of items) addFix(refs, key, 'trailer')
    } else if (name === 'refs') {
      for (const key of items) addOnce(refs.named, key)
    } else if (name === 'requirement') {
      for (const key of requirements) addOnce(refs.requirements, key)
    } else if (name === 'verifies') {
      for (const key of requirements) addOnce(refs.verifies, key)
    } else if (name === 'time') {
      const match = /^(.*?)(?:\s+on\s+(\d{4}-\d{2}-\d{2}))?$/.exec(trailer.value.slice(0, DURATION_MAX))
      const minutes = parseDurationMinutes(match?.[1] ?? '')
      if (minutes !== null && minutes !== 0) refs.times.push({ minutes, on: match?.[2] ?? null })
    } else if (name === 'reverts') {
      const hash = /\b[0-9a-f]{7,64}\b/.exec(trailer.value)?.[0]
      if (hash) addOnce(refs.reverts, hash)
    } else if (name === 'owner' || name === 'severity' || name === 'label' || name === 'due') {
      if (trailer.value) refs.fields.push({ name, value: trailer.value })
    }
  }
}

function withoutOwnTrailers(text: string): string {
  const own = new Set(
    parseTrailers(text)
      .filter((trailer) => OWN_TRAILERS.has(trailer.name.toLowerCase()))
      .map((trailer) => trailer.line),
  )
  if (own.size === 0) return text
  let isOwn = false
  return text
    .split('\n')
    .map((line, index) => {
      isOwn = own.has(index) || (isOwn && /^\s+\S/.test(line))
      return isOwn ? '' : line
    })
    .join('\n')
}

function readProse(text: string, prefixes: KeyPrefixes, refs: References): void {
  let closingUntil = -1
  for (const match of text.matchAll(KEY)) {
    const key = `${match[1]}-${match[2]}`
    const isItem = prefixes.items.has(match[1] ?? '')
    if (!isItem && !prefixes.requirements.has(match[1] ?? '')) continue
    const lineStart = text.lastIndexOf('\n', match.index) + 1
    const before = text.slice(Math.max(lineStart, match.index - 80), match.index)
    const verb = CLOSING_VERB.exec(before)
    const closes =
      (verb !== null && !NEGATION.test(before.slice(0, verb.index))) ||
      (closingUntil >= 0 && match.index - closingUntil <= BETWEEN_MAX && BETWEEN_KEYS.test(text.slice(closingUntil, match.index)))
    closingUntil = closes ? match.index + match[0].length : -1
    if (!isItem) addOnce(refs.requirements, key)
    else if (closes) addFix(refs, key, 'verb')
    else addOnce(refs.named, key)
  }
}

function readGitProse(text: string, refs: References): void {
  for (const match of text.matchAll(/^This reverts commit ([0-9a-f]{7,64})\b/gm)) addOnce(refs.reverts, match[1] ?? '')
  const picked = [...text.matchAll(/^\(cherry picked from commit ([0-9a-f]{7,64})\)/gm)].at(-1)
  if (picked?.[1]) refs.pickedFrom = picked[1]
}

function keysIn(text: string): string[] {
  return [...text.matchAll(KEY)].map((match) => `${match[1]}-${match[2]}`)
}

function prefixOf(key: string): string {
  return key.slice(0, key.lastIndexOf('-'))
}

function addFix(refs: References, key: string, by: 'trailer' | 'verb'): void {
  addOnce(refs.named, key)
  if (!refs.fixes.some((fix) => fix.key === key)) refs.fixes.push({ key, by })
}

function addOnce(list: string[], value: string): void {
  if (!list.includes(value)) list.push(value)
}
