import { zAtMs } from '#basics/wire'
import { operation, outsidePath } from '#people/operation'
import { z } from 'zod'

const MEGABYTE = 1024 * 1024
/** So much of one step's log is kept. */
export const LOG_BYTES_MAX = 32 * MEGABYTE
const zStep = z.string().trim().min(1).max(200)

/** A line of a log that tells of an error or a warning, and the file of the repository that it names. */
export const zLogMark = z.object({
  line: z.number().int(),
  kind: z.enum(['error', 'warning']),
  text: z.string(),
  place: z.object({ path: z.string(), line: z.number().int() }).nullable(),
})
export type LogMark = z.infer<typeof zLogMark>
/** What one step of a build printed; a step that was tried again has a log for each attempt. */
export const zBuildLog = z.object({
  step: z.string(),
  attempt: z.number().int(),
  bytes: z.number().int(),
  lines: z.number().int(),
  /** Whether it grew beyond what is kept. */
  isCut: z.boolean(),
  firstAtMs: zAtMs,
  lastAtMs: zAtMs,
  /** How many different ones; the same words again are not counted. */
  errors: z.number().int(),
  warnings: z.number().int(),
  /** The first of them, in the order of lines. */
  marks: z.array(zLogMark),
})
export type BuildLog = z.infer<typeof zBuildLog>
const zWhichLog = z.object({ step: zStep, attempt: z.coerce.number().int().min(1).default(1) })

/** What can be asked of what builds printed. */
export const buildLogsOperations = {
  listBuildLogs: operation({
    method: 'get',
    path: '/builds/:repository/:number/logs',
    summary: 'What the steps of a build printed: how much, and where errors and warnings stand, at most 200 of each log',
    may: 'project.read',
    about: 'repository',
    answer: z.object({ rows: z.array(zBuildLog) }),
  }),
  readLogLines: operation({
    method: 'get',
    path: '/builds/:repository/:number/logs/lines',
    summary: 'Lines of a log, the first is 1; of terminal sequences colours stay',
    may: 'project.read',
    about: 'repository',
    query: zWhichLog.extend({
      from: z.coerce.number().int().min(1).default(1),
      count: z.coerce.number().int().min(1).max(1000).default(200),
    }),
    answer: z.object({ from: z.number().int(), lines: z.array(z.string()), total: z.number().int() }),
  }),
  findInLog: operation({
    method: 'get',
    path: '/builds/:repository/:number/logs/found',
    summary: 'The lines of a log that hold a text, in whatever case, at most 1,000',
    may: 'project.read',
    about: 'repository',
    query: zWhichLog.extend({ text: z.string().min(1).max(200) }),
    answer: z.object({ lines: z.array(z.number().int()), isMore: z.boolean() }),
  }),
  readLogText: operation({
    method: 'get',
    path: '/builds/:repository/:number/logs/text',
    summary: 'A log as plain text, without colours',
    may: 'project.read',
    about: 'repository',
    query: zWhichLog,
    media: 'text/plain',
    answer: z.string(),
  }),
}

/** What was taken of a piece of a log: how much of it is here now. */
export const zTakenLog = z.object({
  attempt: z.number().int(),
  bytes: z.number().int(),
  lines: z.number().int(),
  notes: z.array(z.string()),
})

/** Where what a build prints is taken. */
export const buildLogsPaths = {
  takeBuildLog: outsidePath({
    method: 'post',
    path: '/receive/build-logs',
    summary: 'What a step of a build printed, whole or piece by piece while it runs, gzip allowed',
    proof: 'evidence',
    takes: { media: ['text/plain', 'application/octet-stream'], limitBytes: LOG_BYTES_MAX },
    query: z.object({
      repository: z.string().min(1).max(100),
      commit: z.string().regex(/^[0-9a-f]{40,64}$/, 'The whole hash of a commit, 40 or 64 digits'),
      /** What the build service calls the build; the same as its reports. */
      build: z.string().trim().min(1).max(200),
      branch: z.string().max(250).default(''),
      /** The step of the build that printed it. */
      step: zStep.default('log'),
      /** A word for this run of the step, such as a random one: the same step run again is a further attempt by another word. */
      run: z.string().max(100).default(''),
      /** How many bytes of this log came before this piece; a whole log is sent without it. */
      from: z.coerce.number().int().min(0).default(0),
      /** With the last piece: a line that no line break ends is one, too. */
      isLast: z.enum(['true', 'false']).default('true'),
    }),
    gives: { media: ['application/json'], json: zTakenLog, status: 200 },
    refusesAs: 'problem',
  }),
}
