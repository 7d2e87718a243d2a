/** A branch or tag that has another commit than before; null where it was not, or is no more. */
export interface RefMove {
  ref: string
  from: string | null
  to: string | null
  isForced: boolean
}
