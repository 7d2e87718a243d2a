import { Problem } from '@dystracer/core/basics/problem'
import { parseFilter } from '@dystracer/core/filter/parse-filter'
import { zSaveView, zViewLook, type SaveView, type View } from '@dystracer/core/looking/wire'
import { sql } from '#platform/db/statements'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { requireRight } from '#subjects/people/index'
import { requireProject } from '#subjects/setup/index'

const VIEWS_MAX = 500

interface ViewRow {
  view_id: string
  owner_id: string
  name: string
  filter: string
  sort: View['sort']
  columns: string
  look: string
  is_shared: number
  is_pinned: number
}

/** The views that an asker has: their own, and those that others share; pinned ones first, then by name. */
export function listViews(ctx: Pick<ServiceContext, 'db'>, who: Who, project: string): View[] {
  return sql(
    ctx.db,
    `SELECT v.view_id, v.owner_id, v.name, v.filter, v.sort, v.columns, v.look, v.is_shared,
      EXISTS (SELECT 1 FROM pinned_view p WHERE p.person_id = @personId AND p.view_id = v.view_id) AS is_pinned
    FROM saved_view v WHERE v.project = @project AND (v.is_shared = 1 OR v.owner_id = @personId)
      ORDER BY is_pinned DESC, v.name, v.view_id LIMIT ${VIEWS_MAX}`,
  )
    .all<ViewRow>({ project, personId: who.personId ?? '' })
    .map((row) => ({
      viewId: row.view_id,
      name: row.name,
      filter: row.filter,
      sort: row.sort,
      columns: JSON.parse(row.columns) as View['columns'],
      look: zViewLook.parse(JSON.parse(row.look)),
      ownerId: row.owner_id,
      isShared: row.is_shared === 1,
      isPinned: row.is_pinned === 1,
    }))
}

/** Saves a view or changes it. Its owner changes it, a lead any shared one. Throws `filter-not-understood`. */
export function saveView(ctx: ServiceContext, who: Who, project: string, rawInput: SaveView): void {
  requireProject(ctx.db, project)
  const personId = requirePerson(who)
  const { isPinned, viewId: givenId, ...view } = zSaveView.parse(rawInput)
  const parsed = parseFilter(view.filter)
  if ('error' in parsed)
    throw new Problem('filter-not-understood', {
      detail: `"${parsed.error.word}" was not understood (${parsed.error.code}).`,
      facts: { ...parsed.error },
    })
  const before = givenId === undefined ? undefined : requireView(ctx, who, project, givenId)
  const viewId = givenId ?? ctx.newId()
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'view-saved',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { ...view, viewId, project, ownerId: before?.ownerId ?? personId },
    })
    if (before?.isPinned !== isPinned)
      writer.append({ kind: 'view-pinned', actor: who.actor, subjects: [`person:${personId}`], body: { viewId, personId, isPinned } })
  })
}

export function removeView(ctx: ServiceContext, who: Who, project: string, viewId: string): void {
  requireView(ctx, who, project, viewId)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'view-removed', actor: who.actor, subjects: [`project:${project}`], body: { viewId } })
  })
}

/** Pins a view in one's own index, or takes it out. */
export function pinView(ctx: ServiceContext, who: Who, project: string, viewId: string, isPinned: boolean): void {
  const personId = requirePerson(who)
  if (!listViews(ctx, who, project).some((view) => view.viewId === viewId))
    throw new Problem('not-found', { detail: 'There is no such view.' })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'view-pinned', actor: who.actor, subjects: [`person:${personId}`], body: { viewId, personId, isPinned } })
  })
}

function requireView(ctx: ServiceContext, who: Who, project: string, viewId: string): View {
  const view = listViews(ctx, who, project).find((known) => known.viewId === viewId)
  if (!view) throw new Problem('not-found', { detail: 'There is no such view.' })
  if (view.ownerId !== who.personId) requireRight(who, 'views.tidy', project)
  return view
}

function requirePerson(who: Who): string {
  if (who.personId === null) throw new Problem('sign-in-required', { detail: 'A view belongs to a person. Sign in.' })
  return who.personId
}
