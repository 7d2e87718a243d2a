import type { OwnScrub } from '@dystracer/core/traces/scrub'
import { RE2JS, RE2JSSyntaxException } from 're2js'

export interface ScrubRuleRow {
  kind: 'text' | 'attribute'
  pattern: string
  name: string
}

/** What is wrong with a pattern, in the engine's words; null for a sound one. */
export function patternTrouble(pattern: string): string | null {
  try {
    const compiled = RE2JS.compile(pattern)
    return compiled.matcher('').find() ? 'it fits the empty text, and would be everywhere' : null
  } catch (error) {
    if (error instanceof RE2JSSyntaxException) return error.message
    throw error
  }
}

/** Own rules as one; undefined for none. Patterns run on an engine whose time is linear in the text, whatever they say. */
export function makeOwnScrub(rules: readonly ScrubRuleRow[]): OwnScrub | undefined {
  if (rules.length === 0) return undefined
  const texts = rules
    .filter((rule) => rule.kind === 'text')
    .map((rule) => ({ pattern: RE2JS.compile(rule.pattern), mark: `[${rule.name}]` }))
  const names = new Set(rules.filter((rule) => rule.kind === 'attribute').map((rule) => rule.pattern.toLowerCase()))
  return {
    scrubText: (text) =>
      texts.reduce((scrubbed, { pattern, mark }) => pattern.matcher(scrubbed).replaceAll(mark.replaceAll(/[\\$]/g, '')), text),
    removes: (attribute) => names.has(attribute.toLowerCase()),
  }
}
