import type { TrainStanding } from '@dystracer/core/trains/standing'

/** How far a train is, in words. */
export const STANDING_WORDS: Record<TrainStanding, string> = {
  planned: 'releases to make',
  made: 'made, not in production yet',
  'under-way': 'partly in production',
  there: 'in production',
  'called-off': 'called off',
}
/** By colour, where it says something. */
export const STANDING_TONE: Partial<Record<TrainStanding, string>> = {
  there: 'text-proof',
  'under-way': 'text-ochre',
  'called-off': 'text-ink-3',
}
