import type { Db } from '#platform/db/open'
import { verifyProjections, type Difference } from '#platform/journal/verify'
import { appliers } from './appliers.js'

/**
 * Rebuilds the tables of all subjects from the journal and tells where they differ from those that are there; an empty list means that they
 * agree.
 */
export function verifyTables(place: { db: Db; dataDir: string }): Difference[] {
  return verifyProjections({ ...place, appliers })
}
