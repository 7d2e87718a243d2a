/** Which agreement. */
interface Of {
  project: string
  agreementId: string
}
/** What is asked, of whom. */
interface Asked extends Of {
  name: string
  words: string
  /** The requirements that it is about, in document order. */
  keys: string[]
  /** The people whose word counts. */
  people: string[]
  dueOn: string | null
}

/** The journal's events of agreements and their bodies. */
export interface AgreementsEvents {
  'agreement-asked': Asked
  'agreement-changed': Asked
  /** Somebody agrees to requirements as they stand at a revision, or (not `isOn`) takes that back. */
  'requirements-agreed': Of & { verdicts: { key: string; revision: number }[]; isOn: boolean }
  /** Words about words of a requirement: `quote` is what they are about, empty for all of it. */
  'agreement-remarked': Of & { remarkId: string; key: string; revision: number; quote: string; text: string }
  'agreement-remark-settled': Of & { remarkId: string; key: string; isSettled: boolean }
  'agreement-ended': Of & { isEnded: boolean; words: string }
}
