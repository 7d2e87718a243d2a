/** How a wanted build ended; `lost`: its machine was not heard of any more. `replaced`: a newer push is built instead. */
export type WantedOutcome = 'passed' | 'broke' | 'stopped' | 'lost' | 'replaced'

/** The journal's events of builds that are wanted of the build machines. */
export interface BuildMachinesEvents {
  /** `again` is the number of the build that is repeated; null for a new one. `isByPush`: the description in the code starts it. */
  'build-wanted': { wantedId: string; repository: string; sha: string; branch: string; again: number | null; isByPush: boolean }
  'build-taken': { wantedId: string; machine: string; number: number }
  'build-stop-wanted': { wantedId: string }
  'wanted-build-ended': { wantedId: string; outcome: WantedOutcome }
}
