import type { TieFacts } from './commit-links.js'

/** The journal's events of ties between code and items, and their bodies. */
export interface TiesEvents {
  /** Somebody said of a commit that it needs no item, or (`needsNone` false) that it does after all. */
  'commit-excused': { repository: string; sha: string; needsNone: boolean }
  /**
   * Somebody said of a proposed tie whether it is right. `facts` is what was known of the two then, from which later proposals learn; null
   * where nothing was proposed.
   */
  'tie-decided': { repository: string; sha: string; key: string; isRight: boolean; facts: TieFacts | null }
}
