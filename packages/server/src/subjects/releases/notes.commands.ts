import { Feed } from 'feed'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import { STRANGER } from '@dystracer/core/people/who'
import type { NotesPublication, PublishedNotes, ReleaseNotes } from '@dystracer/core/releases/contents-wire'
import { NOTE_READERS, type NoteEvidence, type NoteReader, notesAsMarkdown, writeNotes } from '@dystracer/core/releases/write-notes'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { withPlainTexts } from '#platform/atom-text'
import { listItemsByKeys, mayReadThing, onlyVisible } from '#subjects/records/index'
import { GET_PUBLISHED_NOTE, LIST_NOTE, LIST_OPEN_FOUND_IN, LIST_PUBLISHED_NOTES } from './contents.queries.js'
import { readReleaseContents } from './contents.views.js'
import { requireRelease } from './releases.views.js'

const FEED_MAX = 50

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

/** Whether the notes of a release are published, and still read as the notes do now. Throws `not-found`. */
export async function readNotesPublication(ctx: ServiceContext, who: Who, text: string, reader: NoteReader): Promise<NotesPublication> {
  const { service, name: release } = requireRelease(ctx, text)
  const row = sql(ctx.db, GET_PUBLISHED_NOTE).get<{ text: string; is_public: number; at_ms: number }>({ service, release, reader })
  if (!row) return { published: null }
  const now = await releaseNotesAsMarkdown(ctx, who, text, reader)
  return { published: { atMs: row.at_ms, isPublic: row.is_public === 1, isCurrent: now === row.text } }
}

/**
 * Publishes the notes of a release as they read now; what is changed later shows once they are published anew. Nothing confidential is in
 * them, whoever publishes. Throws `not-found`.
 */
export async function publishNotes(
  ctx: ServiceContext,
  who: Who,
  release: string,
  { reader, isPublic }: { reader: NoteReader; isPublic: boolean },
): Promise<NotesPublication> {
  const { service, name } = requireRelease(ctx, release)
  const text = await releaseNotesAsMarkdown(ctx, who, release, reader)
  const entry = ctx.journal.write((writer) =>
    writer.append({
      kind: 'notes-published',
      actor: who.actor,
      subjects: [`release:${service}@${name}`],
      body: { service, release: name, reader, text, isPublic },
    }),
  )
  return { published: { atMs: entry?.atMs ?? ctx.nowMs(), isPublic, isCurrent: true } }
}

/** Takes published notes back: nobody reads them any more where they were published. Throws `not-found`. */
export function withdrawNotes(ctx: ServiceContext, who: Who, text: string, reader: NoteReader): NotesPublication {
  const { service, name: release } = requireRelease(ctx, text)
  if (!sql(ctx.db, GET_PUBLISHED_NOTE).get({ service, release, reader }))
    throw new Problem('not-found', { detail: 'These notes are not published.' })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'notes-withdrawn',
      actor: who.actor,
      subjects: [`release:${service}@${release}`],
      body: { service, release, reader },
    })
  })
  return { published: null }
}

/**
 * The published notes of a service for a kind of reader: those for everybody, and the others for whoever reads one of its projects. Throws
 * `not-found` where there is none for the asker, in the same words whether there is such a service or not.
 */
export function listPublishedNotes(ctx: ServiceContext, who: Who, service: string, reader: NoteReader): PublishedNotes {
  const readsIt = mayReadThing(ctx.db, who, { kind: 'service', id: service })
  const rows = sql(ctx.db, LIST_PUBLISHED_NOTES)
    .all<{ release: string; reader: NoteReader; text: string; is_public: number; at_ms: number; withdrawnWhy: string | null }>({ service })
    .filter((row) => row.is_public === 1 || readsIt)
  if (rows.length === 0) throw new Problem('not-found', { detail: `No notes of ${service} are published.` })
  return {
    service,
    reader,
    readers: NOTE_READERS.filter((known) => rows.some((row) => row.reader === known)),
    rows: rows
      .filter((row) => row.reader === reader)
      .map(({ release, text, at_ms: atMs, withdrawnWhy }) => ({ release, atMs, text, withdrawnWhy })),
  }
}

/** The public notes of a service as Atom (RFC 4287), with the words as they were published. Throws `not-found`. */
export function notesFeed(ctx: ServiceContext, service: string, reader: NoteReader): string {
  const { rows } = listPublishedNotes(ctx, STRANGER, service, reader)
  const page = `${ctx.config.publicUrl}/notes/${encodeURIComponent(service)}`
  const self = `${ctx.config.publicUrl}/feeds/notes/${encodeURIComponent(service)}.atom?reader=${reader}`
  const feed = new Feed({
    id: self,
    title: `Releases of ${service}`,
    link: page,
    feedLinks: { atom: self },
    author: { name: service, link: page },
    copyright: '',
    updated: new Date(rows[0]?.atMs ?? 0),
  })
  for (const { release, atMs, text, withdrawnWhy } of rows.slice(0, FEED_MAX))
    feed.addItem({
      id: `${page}#${release}`,
      title: `${service} ${release}`,
      link: `${page}#${release}`,
      date: new Date(atMs),
      description: withdrawnWhy === null ? text : `Withdrawn: ${withdrawnWhy}\n\n${text}`,
    })
  return withPlainTexts(feed.atom1())
}
