import type { NoteSort, WriteExploration } from '@dystracer/core/exploring/wire'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import type { JournalWriter } from '#platform/journal/journal'
import { isShown, requireKnownRelease } from '#subjects/cases/index'
import { logWithin } from '#subjects/items/index'
import { requireRight } from '#subjects/people/index'
import { readSetup, requireProject } from '#subjects/setup/index'
import { readExploration, requireExploration, type ExplorationRow } from './exploring.views.js'

interface Of {
  project: string
  explorationId: string
}

/** Begins an exploration and gives its id. Throws `invalid-input` for a key or a release that is not there. */
export function beginExploration(ctx: ServiceContext, who: Who, project: string, input: WriteExploration): string {
  requireProject(ctx.db, project)
  requireKnown(ctx, who, input)
  const explorationId = ctx.newId()
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'exploration-begun',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { project, explorationId, ...input },
    })
  })
  return explorationId
}

/** Changes what is to be found out. Throws `not-found`, `invalid-input`. */
export function changeExploration(ctx: ServiceContext, who: Who, { project, explorationId }: Of, input: WriteExploration): void {
  const row = requireExploration(ctx, project, explorationId)
  requireKnown(ctx, who, input)
  // Ties to what the writer may not see are not theirs to lose.
  const hidden = (JSON.parse(row.about) as string[]).filter((key) => !isShown(ctx, who, key))
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'exploration-changed',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { project, explorationId, ...input, about: [...new Set([...input.about, ...hidden])] },
    })
  })
}

function requireKnown(ctx: ServiceContext, who: Who, { about, release }: WriteExploration): void {
  const wrong = about.find((key) => !isShown(ctx, who, key))
  if (wrong !== undefined) throw new Problem('invalid-input', { fields: { about: `${wrong} is no requirement and no item` } })
  if (release !== null) requireKnownRelease(ctx, release)
}

/** One that is not over. Throws `not-found`, `conflict`. */
function requireOpen(ctx: ServiceContext, { project, explorationId }: Of): ExplorationRow {
  const row = requireExploration(ctx, project, explorationId)
  if (row.ended_at_ms !== null) throw new Problem('conflict', { detail: 'It is over. Let it go on first.' })
  return row
}

/** Says that a point was looked at, or was not. Throws `not-found`, `conflict`. */
export function setPoint(ctx: ServiceContext, who: Who, of: Of, { point, isDone }: { point: string; isDone: boolean }): void {
  const row = requireOpen(ctx, of)
  if (!(JSON.parse(row.points) as string[]).includes(point)) throw new Problem('not-found', { detail: 'It has no such point any more.' })
  append(ctx, who, of, (common) => ({ kind: 'exploration-point-set', ...common, body: { ...of, point, isDone } }))
}

/** Lets its clock run, or stand; one that does already is left alone. Throws `not-found`, `conflict`. */
export function setClock(ctx: ServiceContext, who: Who, of: Of, isRunning: boolean): void {
  const row = requireOpen(ctx, of)
  if ((row.running_since_ms !== null) === isRunning) return
  append(ctx, who, of, (common) => ({ kind: 'exploration-clock-set', ...common, body: { ...of, isRunning } }))
}

/** Notes something; trouble may be logged at once. Throws `not-found`, `conflict`. */
export function note(
  ctx: ServiceContext,
  who: Who,
  of: Of,
  { sort, words, logsDefect }: { sort: NoteSort; words: string; logsDefect: boolean },
): void {
  const row = requireOpen(ctx, of)
  if (logsDefect) requireRight(who, 'items.log', of.project)
  ctx.journal.write((writer) => {
    const item = logsDefect ? logDefect(ctx, writer, who, { of, row, words }) : null
    writer.append({
      kind: 'exploration-noted',
      actor: who.actor,
      subjects: [`project:${of.project}`, ...(item === null ? [] : [`item:${item}`])],
      body: { ...of, noteId: ctx.newId(), sort, words, item },
    })
  })
}

/** Logs a defect of trouble that was noted, of the release that was looked at. */
function logDefect(
  ctx: ServiceContext,
  writer: JournalWriter,
  who: Who,
  { of: { project }, row, words }: { of: Of; row: ExplorationRow; words: string },
): string {
  const type = readSetup(ctx.db, project).types.find(({ isDefect }) => isDefect)?.type
  if (type === undefined) throw new Problem('conflict', { detail: `${project} has no kind of item for defects.` })
  const title = words.split('\n').find((line) => line.replace(/!\[[^\]]*\]\([^)]*\)/g, '').trim() !== '') ?? row.question
  const { release } = row
  return logWithin(ctx, writer, who, {
    project,
    type,
    title: title.replace(/\s+/g, ' ').slice(0, 200),
    description: `${words}\n\nNoted while looking into: ${row.question}${release === null ? '' : ` (${release})`}`,
    ...(release !== null && { foundIn: release.slice(release.lastIndexOf('@') + 1) }),
  }).key
}

/** Takes a note back. Throws `not-found`, `not-allowed` for somebody else's, `conflict`. */
export function removeNote(ctx: ServiceContext, who: Who, of: Of, noteId: string): void {
  requireOpen(ctx, of)
  const found = readExploration(ctx, who, of.project, of.explorationId).notes.find((one) => one.noteId === noteId)
  if (!found) throw new Problem('not-found', { detail: 'There is no such note.' })
  if (found.by !== who.actor) requireRight(who, 'talk.moderate', of.project)
  append(ctx, who, of, (common) => ({ kind: 'exploration-note-removed', ...common, body: { ...of, noteId } }))
}

/** Says that it is over, or goes on. Throws `not-found`. */
export function endExploration(ctx: ServiceContext, who: Who, of: Of, { isEnded, words }: { isEnded: boolean; words: string }): void {
  const row = requireExploration(ctx, of.project, of.explorationId)
  if ((row.ended_at_ms !== null) === isEnded) return
  append(ctx, who, of, (common) => ({ kind: 'exploration-ended', ...common, body: { ...of, isEnded, words } }))
}

type Entry = Parameters<JournalWriter['append']>[0]

function append(
  ctx: ServiceContext,
  who: Who,
  { project }: Of,
  entryOf: (common: { actor: Who['actor']; subjects: [`project:${string}`] }) => Entry,
): void {
  ctx.journal.write((writer) => {
    writer.append(entryOf({ actor: who.actor, subjects: [`project:${project}`] }))
  })
}
