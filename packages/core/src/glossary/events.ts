/** The journal's events of the glossary and their bodies. */
export interface GlossaryEvents {
  /** A term means this from now on; `before` is how it was called, where that changed. */
  'term-set': { project: string; term: string; meaning: string; instead: string[]; before: string | null }
  'term-removed': { project: string; term: string }
}
