import { zAtMs } from '#basics/wire'
import { zCommitSummary } from '#code/wire'
import { operation } from '#people/operation'
import { zItemSummary } from '#records/wire'
import { z } from 'zod'

const zPath = z.string().min(1, 'A path is needed').max(1000)
/** Lines of a file that came with one commit, and what that was for. */
export const zFileRun = zCommitSummary.omit({ repository: true }).extend({
  line: z.number().int(),
  lastLine: z.number().int(),
  requirements: z.array(z.string()),
})
export type FileRun = z.infer<typeof zFileRun>
/** A file of a repository as its main line has it, with all that hangs on it. */
export const zFileDetail = z.object({
  repository: z.string(),
  path: z.string(),
  /** The commit at which it was read. */
  sha: z.string(),
  text: z.string(),
  isBinary: z.boolean(),
  isCut: z.boolean(),
  sizeBytes: z.number().int(),
  /** Runs of lines, first to last; empty where nobody can say. */
  runs: z.array(zFileRun),
  /** The newest commits that touched it, and how many there are. */
  commits: z.array(zCommitSummary),
  commitCount: z.number().int(),
  items: z.array(zItemSummary),
  requirements: z.array(z.object({ key: z.string(), title: z.string(), lines: z.number().int() })),
  faults: z.array(z.object({ fault: z.string(), title: z.string(), place: z.string() })),
  knowers: z.array(
    z.object({
      name: z.string(),
      personId: z.string().nullable(),
      commits: z.number().int(),
      lines: z.number().int(),
      lastAtMs: zAtMs,
    }),
  ),
})
export type FileDetail = z.infer<typeof zFileDetail>
/** Lines that hold what was looked for. */
export const zFoundLines = z.object({
  rows: z.array(z.object({ repository: z.string(), path: z.string(), line: z.number().int(), text: z.string() })),
  isCut: z.boolean(),
})
export type FoundLines = z.infer<typeof zFoundLines>

/** The code of an item, over all repositories that the asker may read. */
export const zItemCode = z.object({
  commits: z.array(
    z.object({
      repository: z.string(),
      sha: z.string(),
      subject: z.string(),
      author: z.string(),
      atMs: zAtMs,
      /** Whether its change is in effect on the main line: false before a merge and after a revert; null where that was not looked up. */
      isOnMain: z.boolean().nullable(),
      /** The first release that holds its change, by itself or as a cherry-pick; null where none does. */
      release: z.object({ id: z.string(), name: z.string(), isPick: z.boolean() }).nullable(),
    }),
  ),
  branches: z.array(z.object({ repository: z.string(), name: z.string() })),
  pullRequests: z.array(
    z.object({ repository: z.string(), number: z.number().int(), title: z.string(), state: z.enum(['open', 'merged', 'closed']) }),
  ),
  /** Files by how many of its commits touched them; `changedSince` counts commits of others after its last. */
  files: z.array(z.object({ repository: z.string(), path: z.string(), commits: z.number().int(), changedSince: z.number().int() })),
})
export type ItemCode = z.infer<typeof zItemCode>

/** Files up to so large are compared by what they mean. */
export const MEANING_BYTES_MAX = 256 << 10
const zBlob = z.string().regex(/^(?:[0-9a-f]{40}|[0-9a-f]{64})$/, 'The hash of a content, as diffs name it')
/** What differs in a file by what it means, at most 500 places; `why` says why it cannot be compared so. */
export const zMeaning = z.object({
  changes: z.array(z.object({ at: z.string(), before: z.string().nullable(), after: z.string().nullable() })),
  total: z.number().int(),
  why: z.string().nullable(),
})
/** What differs in a file by what it means. */
export type Meaning = z.infer<typeof zMeaning>

/** What can be asked of files. */
export const filesOperations = {
  readFile: operation({
    method: 'get',
    path: '/repositories/:repository/file',
    summary: 'A file of the main line: its text, who asked for each line, its commits, items, requirements, faults and who knows it',
    may: 'project.read',
    about: 'repository',
    query: z.object({ path: zPath }),
    answer: zFileDetail,
  }),
  readPicture: operation({
    method: 'get',
    path: '/repositories/:repository/pictures/:blob',
    summary: 'A picture of a repository by the hash of its content, as diffs name it; PNG, JPEG, GIF, WebP, SVG, at most 8 MB',
    may: 'project.read',
    about: 'repository',
    media: 'image/*',
    answer: z.string(),
  }),
  readMeaning: operation({
    method: 'get',
    path: '/repositories/:repository/meaning',
    summary: 'What differs between two states of a JSON file or a table (CSV, TSV) by what they mean, at most 256 KB each',
    may: 'project.read',
    about: 'repository',
    query: z.object({ form: z.enum(['json', 'table']), before: zBlob, after: zBlob }),
    answer: zMeaning,
  }),
  readItemCode: operation({
    method: 'get',
    path: '/items/:key/code',
    summary:
      'The code of an item: its commits and the first release that holds each, branches, pull requests, and files with what changed since',
    may: 'project.read',
    about: 'item',
    answer: zItemCode,
  }),
  searchFiles: operation({
    method: 'get',
    path: '/files',
    summary: 'Lines of files on main lines that hold a text',
    may: 'member-of-any',
    about: 'nothing',
    query: z.object({ q: z.string().trim().min(2, 'At least two characters').max(200), repository: z.string().max(100).optional() }),
    answer: zFoundLines,
  }),
}
