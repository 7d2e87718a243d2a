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
  }
  /** It stands below `parent` from now on, and what stands there stands in this order. */
  'requirement-placed': { key: string; parent: string | null; order: string[] }
  'requirement-retired': { key: string; words: string }
  'requirement-restored': { key: string }
}
