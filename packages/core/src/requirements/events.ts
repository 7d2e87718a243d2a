import type { AttributeDefinition, Attributes } from './attributes.js'
import type { Snapshot } from './baseline.js'
import type { GapCode } from './gaps-wire.js'
import type { KeptDocument, Origin } from './reqif/document.js'
import type { WritingCode } from './writing.js'

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
  /** Values that it has now; an empty one takes one away. `origin` says what it is in an exchange file. */
  'requirement-described': { key: string; attributes: Attributes; origin?: Origin }
  /** The attributes that a project has of its own, all of them. */
  'requirement-attributes-defined': { project: string; attributes: AttributeDefinition[] }
  /** A finding of how it is written may stand, with the reason; null: it counts again. */
  'writing-accepted': { key: string; code: WritingCode; words: string; reason: string | null }
  /** What an exchange file held beside its requirements. */
  'requirement-document-kept': { project: string; document: KeptDocument }
  /** One says something of another: that it refines it, say. */
  'requirements-related': { project: string; relationId: string; name: string; from: string; to: string; words: string }
  'requirements-unrelated': { project: string; relationId: string; name: string; from: string; to: string }
  /** A picture for texts; its content is base64. */
  'requirement-picture-kept': { project: string; path: string; mediaType: string; content: string }
  'requirement-retired': { key: string; words: string }
  'requirement-restored': { key: string }
}
