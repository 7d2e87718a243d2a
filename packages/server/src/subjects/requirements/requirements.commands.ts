import { type RequirementRow, requireRow } from './requirements.views.js'
import { Problem } from '@dystracer/core/basics/problem'
import { minorChange } from '@dystracer/core/requirements/minor-change'
import { titleFrom } from '@dystracer/core/requirements/document-moves'
import type { BeginRequirement } from '@dystracer/core/requirements/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { RESERVED_PREFIX } from '#subjects/people/index'
import { listAssertions, maySee } from '#subjects/records/index'
import {
  GET_KEY_PREFIX_BY_PREFIX,
  GET_LAST_OF_REQUIREMENT,
  GET_REQUIREMENT_BY_KEY,
  LAST_NUMBER_OF_REQUIREMENT_BY_PREFIX,
  LIST_SIBLING_OF_REQUIREMENT,
} from './requirements.queries.js'

/**
 * Begins a requirement in a project and gives its key: the prefix and the next number. A prefix that nobody has yet becomes the project's
 * with its first requirement. Throws `invalid-input` by field: a prefix of items or of
 * another project, a parent that is not there or belongs to another project.
 */
export function beginRequirement(ctx: ServiceContext, who: Who, project: string, input: BeginRequirement): string {
  const { prefix, title, text, isHeading, after } = input
  const owner = requirePrefix(ctx, { prefix, project })
  if (after !== null) requireInProject(ctx, { project, key: after, field: 'after' })
  const parent = after === null ? input.parent : requireRow(ctx, after).parent
  if (parent !== null) requireInProject(ctx, { project, key: parent, field: 'parent' })
  const { key, position } = nextRequirement(ctx, prefix)
  ctx.journal.write((writer) => {
    if (!owner)
      writer.append({
        kind: 'prefix-taken',
        actor: who.actor,
        subjects: [`project:${project}`],
        body: { project, prefix, kind: 'requirement' },
      })
    writer.append({
      kind: 'requirement-written',
      actor: who.actor,
      subjects: [`requirement:${key}`],
      body: { key, title, text, parent, isHeading, revision: 1, position },
    })
    if (after !== null) writePlace(ctx, writer, who, { key, parent, after, project })
  })
  return key
}

/** The key and the position of the next requirement with a prefix: behind all others. */
function nextRequirement(ctx: ServiceContext, prefix: string): { key: string; position: number } {
  const number = (sql(ctx.db, LAST_NUMBER_OF_REQUIREMENT_BY_PREFIX).get<{ number: number | null }>({ prefix })?.number ?? 0) + 1
  const position = (sql(ctx.db, GET_LAST_OF_REQUIREMENT).get<{ position: number | null }>({})?.position ?? 0) + 1
  return { key: `${prefix}-${number}`, position }
}

/** Puts one that was written in this write right behind another of its level. */
function writePlace(
  ctx: ServiceContext,
  writer: JournalWriter,
  who: Who,
  { key, parent, after, project }: { key: string; parent: string | null; after: string; project: string },
): void {
  const others = siblings(ctx, { parent, project }).filter((sibling) => sibling !== key)
  const at = others.indexOf(after) + 1
  const order = [...others.slice(0, at), key, ...others.slice(at)]
  writer.append({ kind: 'requirement-placed', actor: who.actor, subjects: [`requirement:${key}`], body: { key, parent, order } })
}

/**
 * Makes two requirements of one and gives the key of the new one, which stands right behind it. What is tied to the first stays there and
 * asks to be looked at, since its text is another. Throws `changed-meanwhile` for another revision, `conflict` for a retired one.
 */
export function splitRequirement(
  ctx: ServiceContext,
  who: Who,
  key: string,
  input: { text: string; rest: string; revision: number },
): string {
  const row = requireAt(ctx, key, input.revision)
  const { key: newKey, position } = nextRequirement(ctx, key.slice(0, key.indexOf('-')))
  const project = projectOfRequirement(ctx, key)
  ctx.journal.write((writer) => {
    writeRevision(writer, who, row, { title: row.title, text: input.text, because: `split: the rest became ${newKey}` })
    writer.append({
      kind: 'requirement-written',
      actor: who.actor,
      subjects: [`requirement:${newKey}`],
      body: {
        key: newKey,
        title: titleFrom(input.rest),
        text: input.rest,
        parent: row.parent,
        isHeading: false,
        revision: 1,
        position,
        because: `split from ${key}`,
      },
    })
    writePlace(ctx, writer, who, { key: newKey, parent: row.parent, after: key, project })
  })
  return newKey
}

/**
 * Joins a requirement to another of its project: its text ends the other's, what stood below it stands below the other, and it
 * is retired with the reason. Throws `changed-meanwhile` for other revisions, `invalid-input` by field, `conflict` for a retired one.
 */
export function joinRequirement(
  ctx: ServiceContext,
  who: Who,
  key: string,
  input: { to: string; revision: number; toRevision: number },
): void {
  const row = requireAt(ctx, key, input.revision)
  const project = projectOfRequirement(ctx, key)
  requireInProject(ctx, { project, key: input.to, field: 'to' })
  const other = requireAt(ctx, input.to, input.toRevision)
  if (row.is_heading === 1 || other.is_heading === 1)
    throw new Problem('invalid-input', { fields: { to: 'A heading is joined to nothing, and nothing to it' } })
  for (let above: string | null = input.to; above !== null; above = requireRow(ctx, above).parent)
    if (above === key) throw new Problem('invalid-input', { fields: { to: `${input.to} is ${key} itself, or stands below it` } })
  const below = siblings(ctx, { parent: key, project })
  const there = siblings(ctx, { parent: input.to, project })
  const text = [other.text || other.title, row.text || row.title].join('\n')
  ctx.journal.write((writer) => {
    writeRevision(writer, who, other, { title: other.title, text, because: `${key} was joined to it` })
    for (const [at, child] of below.entries())
      writer.append({
        kind: 'requirement-placed',
        actor: who.actor,
        subjects: [`requirement:${child}`],
        body: { key: child, parent: input.to, order: [...there, ...below.slice(0, at + 1)] },
      })
    writer.append({
      kind: 'requirement-retired',
      actor: who.actor,
      subjects: [`requirement:${key}`],
      body: { key, words: `joined to ${input.to}` },
    })
  })
}

/** Writes the next revision of a requirement inside a write; it stays where it stands. */
function writeRevision(
  writer: JournalWriter,
  who: Who,
  row: RequirementRow,
  written: { title: string; text: string; because?: string; isMinor?: boolean },
): void {
  const { key, parent, position } = row
  writer.append({
    kind: 'requirement-written',
    actor: who.actor,
    subjects: [`requirement:${key}`],
    body: { key, parent, isHeading: row.is_heading === 1, revision: row.revision + 1, position, ...written },
  })
}

/** A requirement that holds, at the revision that somebody saw. Throws `not-found`, `conflict`, `changed-meanwhile`. */
function requireAt(ctx: ServiceContext, key: string, revision: number): RequirementRow {
  const row = requireRow(ctx, key)
  if (row.retired_at_ms !== null) throw new Problem('conflict', { detail: `${key} is retired.` })
  if (row.revision !== revision) throw new Problem('changed-meanwhile', { detail: `${key} is at revision ${row.revision} by now.` })
  return row
}

/** Who has a prefix; undefined for one that nobody has yet. Throws `invalid-input` for one of items or of another project. */
export function requirePrefix(
  ctx: ServiceContext,
  { prefix, project }: { prefix: string; project: string },
): { project: string } | undefined {
  const owner = sql(ctx.db, GET_KEY_PREFIX_BY_PREFIX).get<{ kind: string; project: string }>({ prefix })
  if (prefix === RESERVED_PREFIX || (owner && (owner.kind !== 'requirement' || owner.project !== project)))
    throw new Problem('invalid-input', { fields: { prefix: `${prefix} is taken by something else. Choose another one` } })
  return owner
}

/**
 * Writes a new revision of a requirement; links to older ones become suspect, unless only its spelling
 * changed. Throws `invalid-input` where that is said and a word with weight changed.
 */
export function writeRequirement(
  ctx: ServiceContext,
  who: Who,
  key: string,
  input: { title: string; text: string; because?: string; isMinor?: boolean },
): void {
  const row = requireRow(ctx, key)
  if (row.title === input.title && row.text === input.text) return
  const { because = '', isMinor = false } = input
  if (isMinor) {
    const { heavy } = minorChange(row.text, input.text)
    if (heavy.length > 0)
      throw new Problem('invalid-input', {
        fields: {
          isMinor: `More than spelling changes: ${heavy
            .slice(0, 6)
            .map((word) => `“${word}”`)
            .join(', ')}. Ties have to be looked at again`,
        },
      })
  }
  ctx.journal.write((writer) => {
    writeRevision(writer, who, row, {
      title: input.title,
      text: input.text,
      ...(because !== '' && { because }),
      ...(isMinor && { isMinor }),
    })
  })
}

/**
 * Says of ties to a requirement that they hold for its newest text, or takes that back to an earlier one. Throws `invalid-input` for a
 * revision that is not there, and `conflict` where one of the ties is gone.
 */
export function confirmLinks(
  ctx: ServiceContext,
  who: Who,
  key: string,
  input: { linkIds: readonly string[]; revision?: number | undefined },
): void {
  const row = requireRow(ctx, key)
  const revision = input.revision ?? row.revision
  if (revision > row.revision) throw new Problem('invalid-input', { fields: { revision: `${key} is at revision ${row.revision}` } })
  const standing = new Map(listAssertions(ctx.db, { kind: 'requirement', id: key }).map((link) => [link.link_id, link]))
  const ties = input.linkIds.map((linkId) => standing.get(linkId))
  if (ties.some((tie) => tie === undefined || (tie.from_kind === 'item' && !maySee(ctx.db, who, tie.from_id))))
    throw new Problem('conflict', { detail: 'One of these ties is not there any more. Look again.' })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'links-confirmed',
      actor: who.actor,
      subjects: [`requirement:${key}`, ...ties.flatMap((tie) => (tie ? [`${tie.from_kind}:${tie.from_id}`] : []))],
      body: { key, linkIds: [...input.linkIds], revision },
    })
    writer.touch(ties.flatMap((tie) => (tie?.from_kind === 'item' ? [tie.from_id] : [])))
  })
}

/**
 * Puts a requirement elsewhere in its document; what stands below it goes along. Throws `invalid-input` by
 * field: a place that is not in its project, or lies below it.
 */
export function placeRequirement(
  ctx: ServiceContext,
  who: Who,
  key: string,
  input: { parent: string | null; before: string | null },
): void {
  const row = requireRow(ctx, key)
  const project = projectOfRequirement(ctx, key)
  const { parent, before } = input
  if (parent !== null) requireInProject(ctx, { project, key: parent, field: 'parent' })
  for (let above = parent; above !== null; above = requireRow(ctx, above).parent)
    if (above === key) throw new Problem('invalid-input', { fields: { parent: `${input.parent} stands below ${key} itself` } })
  const now = siblings(ctx, { parent, project })
  const others = now.filter((sibling) => sibling !== key)
  if (before !== null && !others.includes(before))
    throw new Problem('invalid-input', {
      fields: { before: `${before} does not stand ${parent === null ? 'at the top' : `below ${parent}`}` },
    })
  const at = before === null ? others.length : others.indexOf(before)
  const order = [...others.slice(0, at), key, ...others.slice(at)]
  if (row.parent === parent && order.join() === now.join()) return
  ctx.journal.write((writer) => {
    writer.append({ kind: 'requirement-placed', actor: who.actor, subjects: [`requirement:${key}`], body: { key, parent, order } })
  })
}

/** Says that a requirement holds no more. Its key, its text and what was done for it stay. Throws `conflict` where it is so already. */
export function retireRequirement(ctx: ServiceContext, who: Who, key: string, words: string): void {
  if (requireRow(ctx, key).retired_at_ms !== null) throw new Problem('conflict', { detail: `${key} is retired already.` })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'requirement-retired', actor: who.actor, subjects: [`requirement:${key}`], body: { key, words } })
  })
}

/** Lets a retired requirement hold again. Throws `conflict` where it is not retired. */
export function restoreRequirement(ctx: ServiceContext, who: Who, key: string): void {
  if (requireRow(ctx, key).retired_at_ms === null) throw new Problem('conflict', { detail: `${key} is not retired.` })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'requirement-restored', actor: who.actor, subjects: [`requirement:${key}`], body: { key } })
  })
}

/** Refuses a key that is no requirement of a project, by the field that names it. */
export function requireInProject(ctx: ServiceContext, { project, key, field }: { project: string; key: string; field: string }): void {
  if (!sql(ctx.db, GET_REQUIREMENT_BY_KEY).get({ key }) || projectOfRequirement(ctx, key) !== project)
    throw new Problem('invalid-input', { fields: { [field]: `There is no requirement ${key} in this project` } })
}

/** The project of a requirement, by the prefix of its key. */
export function projectOfRequirement(ctx: ServiceContext, key: string): string {
  return sql(ctx.db, GET_KEY_PREFIX_BY_PREFIX).get<{ project: string }>({ prefix: key.slice(0, key.indexOf('-')) })?.project ?? ''
}

/** The requirements that stand together now, in their order. */
export function siblings(ctx: ServiceContext, place: { parent: string | null; project: string }): string[] {
  return sql(ctx.db, LIST_SIBLING_OF_REQUIREMENT)
    .all<{ key: string }>(place)
    .map((row) => row.key)
}
