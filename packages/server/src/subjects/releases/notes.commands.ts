import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { ReleaseNotes } from '@dystracer/core/releases/contents-wire'
import { type NoteEvidence, type NoteReader, notesAsMarkdown, writeNotes } from '@dystracer/core/releases/write-notes'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { listItemsByKeys, onlyVisible } from '#subjects/records/index'
import { LIST_NOTE, LIST_OPEN_FOUND_IN } from './contents.queries.js'
import { readReleaseContents } from './contents.views.js'
import { requireRelease } from './releases.views.js'

/** The notes of a release for one kind of reader. Throws `not-found`. */
export async function readReleaseNotes(ctx: ServiceContext, who: Who, release: string, reader: NoteReader): Promise<ReleaseNotes> {
  return writeNotes(await evidenceOf(ctx, who, release, reader), reader)
}

/** The same as Markdown. */
export async function releaseNotesAsMarkdown(ctx: ServiceContext, who: Who, release: string, reader: NoteReader): Promise<string> {
  const evidence = await evidenceOf(ctx, who, release, reader)
  return notesAsMarkdown(evidence, writeNotes(evidence, reader))
}

/** Confidential items are left out whoever asks: notes are made to be passed on. */
async function evidenceOf(ctx: ServiceContext, who: Who, text: string, reader: NoteReader): Promise<NoteEvidence> {
  const contents = await readReleaseContents(ctx, who, text)
  const { service, release, against, counts, files, dependencies, authors } = contents
  const open = <Row extends { isConfidential: boolean; disposition: unknown }>(rows: readonly Row[]) =>
    rows.filter((row) => !row.isConfidential && row.disposition === null)
  const known = sql(ctx.db, LIST_OPEN_FOUND_IN)
    .all<{ key: string }>({ release, named: `${service}@${release}` })
    .map((row) => row.key)
  return {
    service,
    release,
    against: against?.release ?? null,
    items: open(contents.items),
    lost: open(contents.lost),
    known: onlyVisible(ctx.db, who, listItemsByKeys(ctx.db, known)).map((item) => ({ ...item, requirements: [] })),
    schema: files.schema,
    settings: files.settings,
    dependencies,
    commits: counts.added,
    commitsForNothing: counts.forNothing,
    authors: authors.map(({ name }) => name),
    written: new Map(
      sql(ctx.db, LIST_NOTE)
        .all<{ key: string; text: string }>({ service, release, reader })
        .map((row) => [row.key, row.text]),
    ),
  }
}

/**
 * Writes a line of the notes, or takes what was written out again. Throws `not-found`, and `invalid-input`
 * for an item that is not in them.
 */
export async function writeReleaseNote(
  ctx: ServiceContext,
  who: Who,
  text: string,
  note: { reader: NoteReader; key: string | null; text: string },
): Promise<ReleaseNotes> {
  const { service, name: release } = requireRelease(ctx, text)
  const evidence = await evidenceOf(ctx, who, text, note.reader)
  const { groups } = writeNotes(evidence, note.reader)
  if (note.key !== null && !groups.some(({ lines }) => lines.some(({ key }) => key === note.key)))
    throw new Problem('invalid-input', { fields: { key: `${note.key} is not in the notes of ${release}` } })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'release-note-written',
      actor: who.actor,
      subjects: [`release:${service}@${release}`],
      body: { service, release, reader: note.reader, key: note.key ?? '', text: note.text },
    })
  })
  const written = new Map(evidence.written)
  if (note.text === '') written.delete(note.key ?? '')
  else written.set(note.key ?? '', note.text)
  return writeNotes({ ...evidence, written }, note.reader)
}
