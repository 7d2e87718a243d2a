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
}
