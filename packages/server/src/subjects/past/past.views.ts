import type { LateFact, NamedMoment } from '@dystracer/core/past/wire'
import { mayIn } from '@dystracer/core/people/standing'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { maySeeEntry, maySeeSubject } from '#subjects/records/index'
import {
  GET_FIRST_ENTRY,
  LIST_LATE_ENTRY,
  LIST_MOMENT_OF_BASELINES,
  LIST_MOMENT_OF_INCIDENTS,
  LIST_MOMENT_OF_RELEASES,
} from './past.queries.js'

/** Releases, baselines and incidents as moments to look back to, the newest first, and since when anything is known here. */
export function listMoments(ctx: ServiceContext, who: Who): { firstAtMs: number | null; rows: NamedMoment[] } {
  const releases = sql(ctx.db, LIST_MOMENT_OF_RELEASES)
    .all<{ id: string; name: string; atMs: number | null }>({})
    .flatMap(({ id, name, atMs }) =>
      atMs !== null && maySeeSubject(ctx.db, who, `release:${id}`) ? [{ kind: 'release' as const, name, atMs }] : [],
    )
  const named = (kind: NamedMoment['kind'], found: { name: string; project: string; atMs: number }[]) =>
    found.filter(({ project }) => mayIn(who, 'project.read', project)).map(({ name, atMs }) => ({ kind, name, atMs }))
  const baselines = named('baseline', sql(ctx.db, LIST_MOMENT_OF_BASELINES).all({}))
  const incidents = named('incident', sql(ctx.db, LIST_MOMENT_OF_INCIDENTS).all({}))
  const rows = [...releases, ...baselines, ...incidents]
  return {
    firstAtMs: sql(ctx.db, GET_FIRST_ENTRY).get<{ atMs: number }>({})?.atMs ?? null,
    rows: rows.filter(({ atMs }) => atMs <= ctx.nowMs()).sort((a, b) => b.atMs - a.atMs),
  }
}

/**
 * What was dated before a moment and became known only afterwards: looking back to it does not show this
 * (docs/rules.md#looking-back). What the asker may not see is not among it.
 */
export function listLateFacts(
  ctx: ServiceContext,
  who: Who,
  { atMs, limit, cursor }: { atMs: number; limit: number; cursor?: string | undefined },
): { rows: LateFact[]; nextCursor: string | null } {
  const found = sql(ctx.db, LIST_LATE_ENTRY).all<Omit<LateFact, 'subjects'> & { subjects: string }>({
    afterSeq: /^\d{1,15}$/.test(cursor ?? '') ? Number(cursor) : 0,
    atMs,
    limit,
  })
  const rows = found
    .map((row) => ({ ...row, subjects: JSON.parse(row.subjects) as string[] }))
    .filter((row) => maySeeEntry(ctx.db, who, row) && row.subjects.every((subject) => !subject.startsWith('person:')))
  return { rows, nextCursor: found.length === limit ? String(found.at(-1)?.seq) : null }
}
