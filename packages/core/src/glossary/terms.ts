import type { WritingFinding } from '#requirements/writing'

/** A word of the project, as far as texts are held against it. */
export interface Term {
  term: string
  /** Words that are said by mistake where this one is meant. */
  instead: readonly string[]
}

/** What an author marks as a term: in quotation marks, or emphasised. Sentences in quotes are no terms. */
const MARKED = /“([^”\n]{2,40})”|"([^"\n]{2,40})"|\*\*([^*\n]{2,40})\*\*|(?<!\*)\*([^*\n]{2,40})\*(?!\*)/g
const WORDS_MAX = 4

/**
 * Where a text does not keep to the words of a project: it says a word that stands for another, or marks something as a term that the
 * glossary does not have. Without a glossary nothing is found, since then nobody agreed on words. Words are compared whole, without regard
 * to case, and a plural in -s is the same word. Linear in the text for each word of the glossary.
 */
export function findTermTrouble(text: string, glossary: readonly Term[]): WritingFinding[] {
  if (glossary.length === 0) return []
  const findings: WritingFinding[] = []
  for (const { term, instead } of glossary)
    for (const word of instead)
      for (const match of text.matchAll(wholeWord(word))) {
        // Within the term itself the word is right: “kiln” stands in “kiln plan”.
        if (isWithin(text, match.index, match[0].length, term)) continue
        findings.push({ code: 'other-word', words: match[0], at: match.index, other: term })
      }
  const known = new Set(glossary.map(({ term }) => plain(term)))
  for (const match of text.matchAll(MARKED)) {
    const marked = (match[1] ?? match[2] ?? match[3] ?? match[4] ?? '').trim()
    const isTerm = /^\p{L}/u.test(marked) && !/[.!?;:]$/.test(marked) && marked.split(/\s+/).length <= WORDS_MAX && !/\d/.test(marked)
    if (isTerm && !known.has(plain(marked))) findings.push({ code: 'undefined-term', words: marked, at: match.index, other: null })
  }
  return findings.sort((a, b) => a.at - b.at || a.code.localeCompare(b.code))
}

/** The words of a glossary that a text uses, in the order of the glossary. */
export function termsIn<Known extends { term: string }>(text: string, glossary: readonly Known[]): Known[] {
  return glossary.filter(({ term }) => wholeWord(term).test(text))
}

/** The acronyms that a glossary explains: they are asked of nobody else. */
export function acronymsOf(glossary: readonly { term: string }[]): string[] {
  return glossary.flatMap(({ term }) => (/^[A-Z]{2,6}$/.test(term) ? [term] : []))
}

function plain(text: string): string {
  return text.toLowerCase().replaceAll(/\s+/g, ' ').trim().replace(/s$/, '')
}

/** A word or words as they stand alone, also with an -s; an acronym in its own case only. */
function wholeWord(words: string): RegExp {
  const escaped = words
    .trim()
    .split(/\s+/)
    .map((word) => word.replaceAll(/[.*+?^${}()|[\]\\]/g, '\\$&'))
    .join('\\s+')
  const isAcronym = /^[A-Z]{2,6}$/.test(words.trim())
  return new RegExp(`(?<![\\p{L}\\p{N}_-])${escaped}s?(?![\\p{L}\\p{N}_-])`, isAcronym ? 'gu' : 'giu')
}

function isWithin(text: string, at: number, length: number, term: string): boolean {
  for (const match of text.matchAll(wholeWord(term))) if (match.index <= at && at + length <= match.index + match[0].length) return true
  return false
}
