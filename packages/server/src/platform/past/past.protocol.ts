/** Which entries of the journal a moment knows: those that were recorded by then. */
export interface Known {
  atMs: number
  /** The last of them, and how many they are. */
  seq: number
  count: number
}
/** What the thread that computes the past does. */
export interface PastMethods {
  /**
   * Makes the tables of a moment as a file; where there is an earlier one with the same beginning, from that on. Tells how many entries it
   * has read.
   */
  build: {
    input: { mainPath: string; path: string; known: Known; from: { path: string; known: Known } | null }
    output: undefined
  }
}
