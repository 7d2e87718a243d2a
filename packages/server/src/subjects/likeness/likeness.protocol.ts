import type { LikenessHit, LikenessText } from '@dystracer/core/likeness/likeness-index'

export interface LikenessMethods {
  /** Items that changed: read anew from the database. */
  refresh: { input: { keys: string[] }; output: void }
  /** Requirements that were written: read anew before the next question. */
  requirementsChanged: { input: object; output: void }
  findRequirements: { input: { report: LikenessText; limit: number }; output: LikenessHit[] }
  find: { input: { text: LikenessText; limit: number }; output: LikenessHit[] }
}
