/**
 * How far a train is. `planned`: a release is still to be made; `made`: each of its services has one; `under-way`: one of them runs in
 * production; `there`: all do; `called-off`: it does not go. Without an environment of kind production what is made is as far as it gets.
 */
export const TRAIN_STANDINGS = ['planned', 'made', 'under-way', 'there', 'called-off'] as const
/** One of them. */
export type TrainStanding = (typeof TRAIN_STANDINGS)[number]

/** How far a train is by its services: which release each brings, and whether that runs, or ran, in production. */
export function trainStanding(cars: readonly { release: string | null; wasInProduction: boolean }[], isCalledOff: boolean): TrainStanding {
  if (isCalledOff) return 'called-off'
  const arrived = cars.filter(({ release, wasInProduction }) => release !== null && wasInProduction).length
  if (cars.length > 0 && arrived === cars.length) return 'there'
  if (arrived > 0) return 'under-way'
  return cars.every(({ release }) => release !== null) ? 'made' : 'planned'
}

/** Whether what a train waits for is complete: something fits its filter, and nothing that fits is still to be merged. */
export function isReady({ waitsFor, total, open }: { waitsFor: string; total: number; open: number }): boolean {
  return waitsFor !== '' && total > 0 && open === 0
}
