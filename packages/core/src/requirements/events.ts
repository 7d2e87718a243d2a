import type { Snapshot } from './baseline.js'
import type { GapCode } from './gaps-wire.js'

/** The journal's events of requirements and their bodies. */
export interface RequirementsEvents {
  'requirement-written': {
    key: string
    title: string
    text: string
    parent: string | null
    isHeading: boolean
    revision: number
    position: number
    /** Why; entries from before have none. */
    because?: string
    /** Only its spelling changed: what was tied to the revision before is tied to this one. */
    isMinor?: boolean
  }
  /** Ties hold for this revision, too (or, taken back, only for that one). */
  'links-confirmed': { key: string; linkIds: string[]; revision: number }
  /** A gap may stay, until a day or for good. */
  'gap-agreed': { project: string; code: GapCode; id: string; reason: string; until: string | null }
  /**
   * The requirements, and what is tied to them, as they stand now, kept under a name; the hash is that of the
   * snapshot's canonical text.
   */
  'baseline-made': { baselineId: string; project: string; name: string; words: string; hash: string; snapshot: Snapshot }
  'baseline-agreed': { baselineId: string; name: string; personId: string }
  'baseline-withdrawn': { baselineId: string; name: string; words: string }
  'gap-reopened': { project: string; code: GapCode; id: string }
  /** It stands below `parent` from now on, and what stands there stands in this order. */
  'requirement-placed': { key: string; parent: string | null; order: string[] }
  'requirement-retired': { key: string; words: string }
  'requirement-restored': { key: string }
}
