import type { Ladder } from './ladder.js'

/** The journal's events of ladder and their bodies. */
export interface LadderEvents {
  'ladder-moved': { key: string; ladder: Ladder; stair: string; from: string }
}
