interface Of {
  project: string
  trainId: string
}

/** The journal's events of trains and their bodies. */
export interface TrainsEvents {
  /** A train as it is from now on; the first of an id plans it. Cars stand in the order in which they go out. */
  'train-planned': Of & {
    name: string
    words: string
    leavesOn: string | null
    /** A filter of items that must be merged before it; empty where it waits for nothing. */
    waitsFor: string
    /** Whether the releases that are missing are made by themselves once that is so. */
    makes: boolean
    cars: { service: string; release: string | null }[]
  }
  /** It does not go, or goes after all. */
  'train-called-off': Of & { isCalledOff: boolean; words: string }
  /** All that it waits for is merged. */
  'train-ready': Of & { name: string; items: number }
  /** A release could not be made by itself: a person has to look. */
  'train-held': Of & { name: string; why: string }
}
