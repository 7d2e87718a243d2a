/** The journal's events of findings. */
export interface FindingsEvents {
  /** A finding is nobody's trouble until a day is over, though it is still listed; `untilDay` null takes that back. */
  'finding-set-aside': { repository: string; tool: string; identity: string; what: string; untilDay: string | null; why: string }
}
