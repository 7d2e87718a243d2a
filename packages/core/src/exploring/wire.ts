import { zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { z } from 'zod'

/** What a note is: something seen, a question that is open, an idea of what to look at, or trouble. */
export const NOTE_SORTS = ['seen', 'question', 'idea', 'trouble'] as const
/** One of those. */
export type NoteSort = (typeof NOTE_SORTS)[number]

const zKey = z.string().trim().toUpperCase().max(20)
const zPoint = z.string().trim().min(1).max(300)
/** An exploration as somebody writes it. */
export const zWriteExploration = z.strictObject({
  question: z.string().trim().min(1, 'Say what it is to find out').max(200),
  /** What has to be known before, in Markdown. */
  text: z.string().max(20_000).default(''),
  points: z
    .array(zPoint)
    .max(100)
    .default([])
    .refine((points) => new Set(points).size === points.length, 'Two points are the same'),
  about: z.array(zKey).max(50).default([]),
  release: z.string().trim().max(200).nullable().default(null),
  boxMinutes: z.number().int().min(5, 'At least five minutes').max(1440).nullable().default(null),
})
/** An exploration to write, with nothing left open. */
export type WriteExploration = z.output<typeof zWriteExploration>
/** A note, in Markdown. */
export const zExplorationNote = z.object({
  noteId: z.string(),
  sort: z.enum(NOTE_SORTS),
  words: z.string(),
  /** The defect that it was logged as. */
  item: z.string().nullable(),
  by: z.string(),
  atMs: zAtMs,
})
export type ExplorationNote = z.infer<typeof zExplorationNote>
/** An exploration as a row of the list. */
export const zExploration = z.object({
  explorationId: z.string(),
  question: z.string(),
  release: z.string().nullable(),
  boxMinutes: z.number().int().nullable(),
  /** What its clock has counted, without what runs now. */
  spentMs: z.number().int(),
  /** Since when its clock runs; null while it stands. */
  runningSinceMs: zAtMs.nullable(),
  points: z.object({ done: z.number().int(), all: z.number().int() }),
  notes: z.object({ all: z.number().int(), trouble: z.number().int() }),
  by: z.string(),
  atMs: zAtMs,
  ended: z.object({ by: z.string(), atMs: zAtMs, words: z.string() }).nullable(),
})
export type Exploration = z.infer<typeof zExploration>
/** An exploration whole. */
export const zExplorationDetail = zExploration.extend({
  project: z.string(),
  text: z.string(),
  about: z.array(z.string()),
  points: z.array(z.object({ point: z.string(), isDone: z.boolean() })),
  /** The oldest first. */
  notes: z.array(zExplorationNote),
})
export type ExplorationDetail = z.infer<typeof zExplorationDetail>

const ofProject = { about: 'project' } as const
const all = '/projects/:project/explorations'
const one = `${all}/:explorationId`
/** What can be asked of explorations. */
export const exploringOperations = {
  listExplorations: operation({
    method: 'get',
    path: all,
    summary: 'The explorations of a project: those that are not over first, then the newest, at most 500',
    may: 'project.read',
    ...ofProject,
    answer: z.object({ rows: z.array(zExploration) }),
  }),
  readExploration: operation({
    method: 'get',
    path: one,
    summary: 'An exploration with its points and notes',
    may: 'project.read',
    ...ofProject,
    answer: zExplorationDetail,
  }),
  exportExploration: operation({
    method: 'get',
    path: `${one}/report.md`,
    summary: 'An exploration as Markdown: what it was to find out, what was looked at, noted and found',
    may: 'project.read',
    ...ofProject,
    media: 'text/markdown',
    answer: z.string(),
  }),
  beginExploration: operation({
    method: 'post',
    path: all,
    summary: 'Say what is to be found out by looking around, with points to look at and a time for it',
    may: 'tests.write',
    ...ofProject,
    body: zWriteExploration,
    answer: zExplorationDetail,
    status: 201,
  }),
  changeExploration: operation({
    method: 'put',
    path: one,
    summary: 'Change what is to be found out; what was noted stays, and points that stay keep their ticks',
    may: 'tests.write',
    ...ofProject,
    body: zWriteExploration,
    answer: zExplorationDetail,
  }),
  setExplorationPoint: operation({
    method: 'put',
    path: `${one}/points`,
    summary: 'Say that a point was looked at, or was not',
    may: 'tests.write',
    ...ofProject,
    body: z.strictObject({ point: zPoint, isDone: z.boolean() }),
    answer: zExplorationDetail,
  }),
  setExplorationClock: operation({
    method: 'put',
    path: `${one}/clock`,
    summary: 'Let its clock run, or stand',
    may: 'tests.write',
    ...ofProject,
    body: z.strictObject({ isRunning: z.boolean() }),
    answer: zExplorationDetail,
  }),
  noteInExploration: operation({
    method: 'post',
    path: `${one}/notes`,
    summary: 'Note something; trouble may be logged as a defect at once',
    may: 'tests.write',
    ...ofProject,
    body: z
      .strictObject({
        sort: z.enum(NOTE_SORTS),
        words: z.string().trim().min(1, 'Say what').max(20_000),
        logsDefect: z.boolean().default(false),
      })
      .refine(({ sort, logsDefect }) => !logsDefect || sort === 'trouble', { path: ['logsDefect'], message: 'Only trouble is logged' }),
    answer: zExplorationDetail,
    status: 201,
  }),
  removeExplorationNote: operation({
    method: 'delete',
    path: `${one}/notes/:noteId`,
    summary: 'Take back a note of one’s own',
    may: 'tests.write',
    ...ofProject,
    answer: zExplorationDetail,
  }),
  endExploration: operation({
    method: 'put',
    path: `${one}/end`,
    summary: 'Say that it is over and what came of it, or that it goes on',
    may: 'tests.write',
    ...ofProject,
    body: z.strictObject({ isEnded: z.boolean(), words: z.string().trim().max(20_000).default('') }),
    answer: zExplorationDetail,
  }),
}
