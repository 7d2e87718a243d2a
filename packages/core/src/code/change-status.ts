/** What a code host shows of a pull request for Dystracer: one for each, which the next replaces. */
export interface ChangeStatus {
  repository: string
  number: number
  /** Its newest commit. */
  sha: string
  /** `ready` once every gate holds, `waiting` until then, `over` where it is merged or closed. */
  state: 'ready' | 'waiting' | 'over'
  /** One line of at most 140 characters. */
  summary: string
  /** Its page here. */
  url: string
  /** What it is for: keys alone, none of which is confidential. */
  items: { key: string; url: string }[]
  /** What has to hold before the merge, each as a sentence. */
  gates: { isMet: boolean; words: string }[]
}
