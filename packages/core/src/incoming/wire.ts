import { zEmpty, zAtMs } from '#basics/wire'
import { title, description } from '#items/wire'
import { zDisposition } from '#ladder/wire'
import { operation } from '#people/operation'
import { z } from 'zod'

export const zPublicReport = z.strictObject({
  title,
  description,
  address: z.union([z.email().max(200), z.literal('')]).default(''),
  component: z.string().max(100).nullable().default(null),
})
/** The text of the private link by which a reporter without an account follows their report. */
export const zReported = z.object({ token: z.string() })
/** What a reporter without an account reads by their private link. */
export const zReportState = z.object({
  title: z.string(),
  reportedAtMs: zAtMs,
  state: z.enum(['waits', 'asked', 'accepted', 'underway', 'fixed', 'released', 'verified', 'same-as', 'rejected', 'came-back']),
  disposition: zDisposition.nullable(),
  /** What they were told with a rejection, or what they are asked. */
  words: z.string(),
  /** Of the report that it is the same as, as much as they may know. */
  sameAsState: z.string().nullable(),
  answers: z.array(z.object({ text: z.string(), atMs: zAtMs })),
})
export type ReportState = z.infer<typeof zReportState>
export const zAnswerReport = z.strictObject({ text: z.string().trim().min(1, 'Write an answer').max(20_000) })

/** What can be asked of incoming. */
export const incomingOperations = {
  readPublicForm: operation({
    method: 'get',
    path: '/public/:project/form',
    summary: 'What the public form asks, where it is switched on',
    may: 'anyone',
    about: 'nothing',
    answer: z.object({ name: z.string(), components: z.array(z.string()) }),
  }),
  sendPublicReport: operation({
    method: 'post',
    path: '/public/:project/reports',
    summary: 'Report something without an account',
    may: 'anyone',
    about: 'nothing',
    body: zPublicReport,
    answer: zReported,
  }),
  readReport: operation({
    method: 'get',
    path: '/public/reports/:token',
    summary: 'What became of a report, by its private link',
    may: 'anyone',
    about: 'nothing',
    answer: zReportState,
  }),
  answerReport: operation({
    method: 'post',
    path: '/public/reports/:token/answers',
    summary: 'Answer as the reporter',
    may: 'anyone',
    about: 'nothing',
    body: zAnswerReport,
    answer: zEmpty,
  }),
}
