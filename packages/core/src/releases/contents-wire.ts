import { zAtMs } from '#basics/wire'
import { operation, outsidePath } from '#people/operation'
import { zItemSummary } from '#records/wire'
import { z } from 'zod'
import { zRelease } from './wire.js'
import { NOTE_READERS } from './write-notes.js'

const zHeldItem = zItemSummary.extend({ requirements: z.array(z.string()) })
const zHeldCommit = z.object({
  sha: z.string(),
  subject: z.string(),
  author: z.string(),
  atMs: zAtMs,
  items: z.array(z.string()),
  /** `again`: the other has the same change by another commit; `undone`: taken back before it was released. */
  as: z.enum(['added', 'removed', 'again', 'undone']),
})
/** What a release holds against another, or against what runs somewhere. */
export const zReleaseContents = z.object({
  service: z.string(),
  release: z.string(),
  /** The other; null for the first release, which is held against nothing. */
  against: z.object({ release: z.string(), runsIn: z.string().nullable() }).nullable(),
  /** Items that its changes are for. */
  items: z.array(zHeldItem),
  /** Items whose fix the other has and this has not: rolling back to it loses them. */
  lost: z.array(zHeldItem),
  requirements: z.array(z.string()),
  counts: z.object({
    added: z.number().int(),
    removed: z.number().int(),
    again: z.number().int(),
    undone: z.number().int(),
    merges: z.number().int(),
    forNothing: z.number().int(),
  }),
  commits: z.array(zHeldCommit),
  /** Commits beyond those that are listed. */
  more: z.number().int(),
  authors: z.array(z.object({ name: z.string(), commits: z.number().int() })),
  files: z.object({ schema: z.array(z.string()), settings: z.array(z.string()), tests: z.array(z.string()), changed: z.number().int() }),
  dependencies: z.array(z.object({ name: z.string(), from: z.string().nullable(), to: z.string().nullable() })),
})
export type ReleaseContents = z.infer<typeof zReleaseContents>

const zRate = z.object({ perThousand: z.number(), from: z.number(), to: z.number() }).nullable()
/** How a release does where people use it, against the one before. */
export const zReleaseHealth = z.object({
  verdict: z.enum(['not-run', 'too-early', 'healthy', 'look', 'stop']),
  reasons: z.array(z.enum(['little-traffic', 'nothing-before', 'new-faults', 'fails-more', 'fails-much-more', 'no-worse'])),
  before: zRate,
  after: zRate,
  /** The release that it is held against. */
  against: z.string().nullable(),
  /** Faults that were seen in it first. */
  newFaults: z.array(z.object({ fault: z.string(), type: z.string(), message: z.string(), atMs: zAtMs, occurrences: z.number().int() })),
  /** When it first failed in a new way, after it began to run in production. */
  firstBadMs: zAtMs.nullable(),
  runningSinceMs: zAtMs.nullable(),
})
export type ReleaseHealth = z.infer<typeof zReleaseHealth>

const zNoteLine = z.object({ key: z.string().nullable(), text: z.string(), isWritten: z.boolean() })
const zReader = z.enum(NOTE_READERS).default('users')
/** The notes of a release for one kind of reader. */
export const zReleaseNotes = z.object({
  reader: z.enum(NOTE_READERS),
  intro: z.string(),
  groups: z.array(z.object({ title: z.string(), lines: z.array(zNoteLine) })),
})
export type ReleaseNotes = z.infer<typeof zReleaseNotes>
/** Whether notes are published, and whether what is published still reads as the notes do now. */
export const zNotesPublication = z.object({
  published: z.object({ atMs: zAtMs, isPublic: z.boolean(), isCurrent: z.boolean() }).nullable(),
})
export type NotesPublication = z.infer<typeof zNotesPublication>
/** The published notes of a service for one kind of reader, the newest release first. */
export const zPublishedNotes = z.object({
  service: z.string(),
  reader: z.enum(NOTE_READERS),
  /** The readers for whom there are any. */
  readers: z.array(z.enum(NOTE_READERS)),
  rows: z.array(
    z.object({
      release: z.string(),
      atMs: zAtMs,
      text: z.string(),
      /** Why it was withdrawn since; null while it stands. */
      withdrawnWhy: z.string().nullable(),
    }),
  ),
})
export type PublishedNotes = z.infer<typeof zPublishedNotes>
/** Words of a person in the place of what is said by itself; empty ones let that stand again. */
export const zWriteNote = z.strictObject({
  reader: zReader,
  /** The item that it is about; null for the words at the beginning. */
  key: z.string().max(20).nullable(),
  text: z.string().trim().max(4000),
})

const zTaggable = z.object({
  sha: z.string(),
  subject: z.string(),
  atMs: zAtMs,
  /** The branch whose newest commit it is; null for one further back on the main line. */
  branch: z.string().nullable(),
})
/** What would be in the next release of a service, were it made now of a commit. */
export const zNextRelease = z.object({
  service: z.string(),
  repository: z.string(),
  tagPrefix: z.string(),
  /** The release that it builds on: the newest by its name, or the nearest behind another commit; null for the first. */
  latest: z.string().nullable(),
  names: z.array(z.string()),
  /** For each name the next candidate for it. */
  candidates: z.array(z.string()),
  /** The commit that it would be made of; null where the main line is not read yet. */
  tip: zTaggable.nullable(),
  /** What else it could be made of: tips of the main line and of long-lived ones, then the newest commits of the main line. */
  choices: z.array(zTaggable),
  items: z.array(zHeldItem),
  /** What the main line has for items beyond that commit, and would be left out. */
  leftOut: z.array(zHeldItem),
  commits: z.number().int(),
  /** What speaks against it: an item that is blocked, contradicted by evidence, or that nothing asked for; a broken build of the tip. */
  doubts: z.array(
    z.object({ key: z.string().nullable(), why: z.enum(['blocked', 'contradicted', 'without-requirement', 'broken-build', 'no-build']) }),
  ),
})
export type NextRelease = z.infer<typeof zNextRelease>
/** How a release may be called. */
export const zReleaseName = z
  .string()
  .trim()
  .regex(/^\d[0-9A-Za-z._+-]{0,60}$/, 'It begins with a digit: digits, letters, dots and hyphens')
/** A release to make: a tag at a commit that is known, pushed to where the code lies. */
export const zMakeRelease = z.strictObject({
  name: zReleaseName,
  sha: z.string().regex(/^[0-9a-f]{40,64}$/, 'The whole hash of a commit'),
})

/** What can be asked of what a release holds. */
export const releaseContentsOperations = {
  readNextRelease: operation({
    method: 'get',
    path: '/services/:service/next-release',
    summary: 'What would be in the next release, how it could be called, and what speaks against it',
    may: 'project.read',
    about: 'service',
    isOfNow: true,
    query: z.object({
      /** The whole hash of the commit to make it of; left out, the tip of the main line. */
      of: z
        .string()
        .regex(/^[0-9a-f]{40,64}$/)
        .optional(),
    }),
    answer: zNextRelease,
  }),
  makeRelease: operation({
    method: 'post',
    path: '/services/:service/releases',
    summary: 'Make a release: its tag is pushed to where the code lies',
    may: 'releases.make',
    about: 'service',
    body: zMakeRelease,
    answer: zRelease,
    status: 201,
  }),
  readReleaseContents: operation({
    method: 'get',
    path: '/releases/:release/contents',
    summary: 'What a release holds against the one that it builds on, another one, or what runs in an environment',
    may: 'project.read',
    about: 'release',
    query: z.object({
      /** A release of the service, or an environment; left out, the release that it builds on. */
      against: z.string().max(100).optional(),
    }),
    answer: zReleaseContents,
  }),
  readReleaseHealth: operation({
    method: 'get',
    path: '/releases/:release/health',
    summary: 'How it does in production against the release before: failures for what was done, and new faults',
    may: 'project.read',
    about: 'release',
    answer: zReleaseHealth,
  }),
  readReleaseNotes: operation({
    method: 'get',
    path: '/releases/:release/notes',
    summary: 'Its notes for users, operators or auditors; nothing confidential is in them',
    may: 'project.read',
    about: 'release',
    query: z.object({ reader: zReader }),
    answer: zReleaseNotes,
  }),
  exportReleaseRecord: operation({
    method: 'get',
    path: '/releases/:release/record.zip',
    summary:
      'What an audit asks of a release, as JSON, CSV and a page in one signed archive; `dystracer verify --bundle` checks it anywhere',
    may: 'project.read',
    about: 'release',
    media: 'application/zip',
    answer: z.string(),
  }),
  exportReleaseNotes: operation({
    method: 'get',
    path: '/releases/:release/notes.md',
    summary: 'The same as Markdown',
    may: 'project.read',
    about: 'release',
    query: z.object({ reader: zReader }),
    media: 'text/markdown',
    answer: z.string(),
  }),
  readNotesPublication: operation({
    method: 'get',
    path: '/releases/:release/notes/publication',
    summary: 'Whether its notes are published, and as they read now',
    may: 'project.read',
    about: 'release',
    query: z.object({ reader: zReader }),
    answer: zNotesPublication,
  }),
  publishNotes: operation({
    method: 'put',
    path: '/releases/:release/notes/publication',
    summary: 'Publish its notes as they read now, for everybody or for those who read the project',
    may: 'releases.make',
    about: 'release',
    body: z.strictObject({ reader: zReader, isPublic: z.boolean() }),
    answer: zNotesPublication,
  }),
  withdrawNotes: operation({
    method: 'delete',
    path: '/releases/:release/notes/publication',
    summary: 'Take published notes back',
    may: 'releases.make',
    about: 'release',
    query: z.object({ reader: zReader }),
    answer: zNotesPublication,
  }),
  listPublishedNotes: operation({
    method: 'get',
    path: '/public/notes/:service',
    summary: 'The published notes of a service: those for everybody, and the others for whoever reads the project',
    may: 'anyone',
    about: 'nothing',
    isOfNow: true,
    query: z.object({ reader: zReader }),
    answer: zPublishedNotes,
  }),
  writeReleaseNote: operation({
    method: 'put',
    path: '/releases/:release/notes',
    summary: 'Write a line of its notes, or the words at their beginning; they stay when the release is read anew',
    may: 'releases.deploy',
    about: 'release',
    body: zWriteNote,
    answer: zReleaseNotes,
  }),
}

/** What feed readers fetch of releases. */
export const releasesPaths = {
  readNotesFeed: outsidePath({
    method: 'get',
    path: '/feeds/notes/:name',
    summary: 'The public notes of a service as Atom; the name is the service with .atom, ?reader= says for whom',
    proof: 'nobody',
    gives: { media: ['application/atom+xml'], status: 200 },
    refusesAs: 'problem',
  }),
}
