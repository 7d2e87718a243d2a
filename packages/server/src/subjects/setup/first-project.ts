import type { Permission } from '@dystracer/core/people/permissions'
import { mayIn } from '@dystracer/core/people/standing'
import type { Who } from '@dystracer/core/people/who'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import { LIST_PREFIXES_OF_PROJECTS } from './setup.queries.js'

/**
 * The project that something is about when none is named: the first by its prefix in which the asker has the right; null where there is
 * none.
 */
export function firstProjectWhere(db: Db, who: Who, permission: Permission): string | null {
  const prefixes = sql(db, LIST_PREFIXES_OF_PROJECTS).all<{ prefix: string }>({})
  return prefixes.find(({ prefix }) => mayIn(who, permission, prefix))?.prefix ?? null
}
