/** What the thread that computes the past does. */
export interface PastMethods {
  /** Makes the tables of a moment as a file, going on from an earlier one where there is one; tells how many entries it has read. */
  build: {
    input: { mainPath: string; path: string; seq: number; from: { path: string; seq: number } | null }
    output: undefined
  }
}
