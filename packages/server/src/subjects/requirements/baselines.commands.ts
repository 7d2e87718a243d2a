import { createHash } from 'node:crypto'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import { canonicalText, compareSnapshots, type HeldLink, type HeldRequirement, type Snapshot } from '@dystracer/core/requirements/baseline'
import type { Baseline, Comparison } from '@dystracer/core/requirements/baselines-wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { maySee } from '#subjects/records/index'
import { requireProject } from '#subjects/setup/index'
import { GET_BASELINE, GET_REVISION, LIST_AGREEMENT, LIST_BASELINE, LIST_HELD_LINK, LIST_HELD_REQUIREMENT } from './baselines.queries.js'

type Row = Omit<Baseline, 'requirements' | 'links' | 'isIntact' | 'agreedBy'> & { snapshot: string }

/** The baselines of a project, the newest first; each is held against its hash. */
export function listBaselines(ctx: ServiceContext, project: string): { rows: Baseline[] } {
  requireProject(ctx.db, project)
  const rows = sql(ctx.db, LIST_BASELINE)
    .all<Row>({ project })
    .map(({ snapshot, ...row }): Baseline => {
      const held = JSON.parse(snapshot) as Snapshot
      return {
        ...row,
        requirements: held.requirements.length,
        links: held.links.length,
        isIntact: hashOf(held) === row.hash,
        agreedBy: sql(ctx.db, LIST_AGREEMENT).all<Baseline['agreedBy'][number]>({ baselineId: row.baselineId }),
      }
    })
  return { rows }
}

function hashOf(snapshot: Snapshot): string {
  return createHash('sha256').update(canonicalText(snapshot)).digest('hex')
}

/** What stands now: every requirement of the project with its revision, and what is tied to them. */
function snapshotNow(ctx: ServiceContext, project: string): Snapshot {
  const requirements = sql(ctx.db, LIST_HELD_REQUIREMENT)
    .all<Omit<HeldRequirement, 'isRetired'> & { isRetired: number }>({ project })
    .map((row) => ({ ...row, isRetired: row.isRetired === 1 }))
  const keys = JSON.stringify(requirements.map((row) => row.key))
  return { requirements, links: sql(ctx.db, LIST_HELD_LINK).all<HeldLink>({ keys }) }
}

/** Keeps what stands now under a name. Throws `invalid-input` for a name that another baseline has. */
export function makeBaseline(ctx: ServiceContext, who: Who, project: string, input: { name: string; words: string }): void {
  if (listBaselines(ctx, project).rows.some((row) => row.name === input.name && row.withdrawn === null))
    throw new Problem('invalid-input', { fields: { name: 'Another baseline is called so' } })
  const snapshot = snapshotNow(ctx, project)
  if (snapshot.requirements.length === 0) throw new Problem('conflict', { detail: 'There is no requirement to keep yet.' })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'baseline-made',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { baselineId: ctx.newId(), project, ...input, hash: hashOf(snapshot), snapshot },
    })
  })
}

/** Agrees to a baseline. Throws `conflict` for one that does not count any more, and for somebody who has agreed already. */
export function agreeBaseline(ctx: ServiceContext, who: Who, project: string, baselineId: string): void {
  const row = requireCounting(ctx, project, baselineId)
  if (who.personId === null) throw new Problem('not-allowed', { detail: 'A person agrees, not a program.' })
  if (
    sql(ctx.db, LIST_AGREEMENT)
      .all<{ personId: string }>({ baselineId })
      .some((one) => one.personId === who.personId)
  )
    throw new Problem('conflict', { detail: `You have agreed to “${row.name}” already.` })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'baseline-agreed',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { baselineId, name: row.name, personId: who.personId ?? '' },
    })
  })
}

/** Says that a baseline does not count any more. Throws `conflict` where it is so already. */
export function withdrawBaseline(ctx: ServiceContext, who: Who, project: string, baselineId: string, words: string): void {
  const row = requireCounting(ctx, project, baselineId)
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'baseline-withdrawn',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { baselineId, name: row.name, words },
    })
  })
}

interface HeldBaseline {
  name: string
  snapshot: Snapshot
  withdrawn: string | null
}

function requireBaseline(ctx: ServiceContext, project: string, baselineId: string): HeldBaseline {
  const row = sql(ctx.db, GET_BASELINE).get<{ name: string; snapshot: string; withdrawn: string | null }>({ project, baselineId })
  if (!row) throw new Problem('not-found', { detail: 'There is no such baseline.' })
  return { ...row, snapshot: JSON.parse(row.snapshot) as Snapshot }
}

function requireCounting(ctx: ServiceContext, project: string, baselineId: string): HeldBaseline {
  const row = requireBaseline(ctx, project, baselineId)
  if (row.withdrawn !== null) throw new Problem('conflict', { detail: `“${row.name}” does not count any more.` })
  return row
}

/** What differs between a baseline and another one, or what stands now; ties of items that the asker may not see are left out. */
export function compareBaseline(ctx: ServiceContext, who: Who, project: string, baselineId: string, other?: string): Comparison {
  const from = requireBaseline(ctx, project, baselineId)
  const to = other ? requireBaseline(ctx, project, other) : null
  const [before, after] = [from.snapshot, to?.snapshot ?? snapshotNow(ctx, project)]
  const changes = compareSnapshots(before, after)
  const revisionIn = ({ requirements }: Snapshot) => new Map(requirements.map((held) => [held.key, held.revision]))
  const [old, fresh] = [revisionIn(before), revisionIn(after)]
  const textAt = (key: string, revision: number) =>
    sql(ctx.db, GET_REVISION).get<{ title: string; text: string; because: string }>({ key, revision }) ?? {
      title: '',
      text: '',
      because: '',
    }
  const named = (key: string) => {
    const { title, text } = textAt(key, fresh.get(key) ?? old.get(key) ?? 0)
    return { key, title, text }
  }
  const seen = (links: readonly HeldLink[]) => links.filter((link) => maySee(ctx.db, who, link.item))
  return {
    from: from.name,
    to: to?.name ?? null,
    added: changes.added.map(named),
    removed: changes.removed.map(named),
    changed: changes.changed.map((change) => {
      const [was, is] = [textAt(change.key, change.from), textAt(change.key, change.to)]
      return {
        key: change.key,
        title: is.title,
        fromRevision: change.from,
        toRevision: change.to,
        before: was.text,
        after: is.text,
        because: is.because,
      }
    }),
    moved: changes.moved.map((move) => ({ ...move, title: named(move.key).title })),
    retired: changes.retired.map(named),
    restored: changes.restored.map(named),
    linksAdded: seen(changes.linksAdded),
    linksRemoved: seen(changes.linksRemoved),
  }
}
