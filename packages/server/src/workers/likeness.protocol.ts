import type { LikenessHit, LikenessText } from '@dystracer/core/likeness/likeness-index'

export interface LikenessMethods {
  /** Items that changed: read anew from the database. */
  refresh: { input: { keys: string[] }; output: void }
  find: { input: { text: LikenessText; limit: number }; output: LikenessHit[] }
}
