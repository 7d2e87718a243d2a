import { zNodeRef, zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { PROVENANCES } from '#records/provenance'
import { THREAD_COLUMNS } from './thread.js'
import { z } from 'zod'

/** A thread as sent; things that the asker may not see are counted, not named. */
export const zThread = z.object({
  start: z.string(),
  nodes: z.array(
    z.object({
      id: z.string(),
      ref: zNodeRef.nullable(),
      column: z.enum(THREAD_COLUMNS),
      title: z.string(),
      subtitle: z.string(),
      tone: z.enum(['proof', 'fault', 'ochre', 'plain', 'missing']),
    }),
  ),
  edges: z.array(
    z.object({
      from: z.string(),
      to: z.string(),
      kind: z.string(),
      provenance: z.enum(PROVENANCES),
      statedBy: z.string().nullable(),
      atMs: zAtMs.nullable(),
      score01: z.number().nullable(),
      tone: z.enum(['proof', 'fault', 'missing']),
    }),
  ),
  gaps: z.array(
    z.object({
      code: z.enum(['requirement-without-item', 'item-without-code', 'fix-without-release', 'requirement-without-test']),
      of: z.string(),
    }),
  ),
  history: z.array(
    z.object({
      seq: z.number().int(),
      kind: z.string(),
      atMs: zAtMs,
      by: z.string().nullable(),
      cause: z.string().nullable(),
      subject: z.string(),
      facts: z.record(z.string(), z.unknown()),
    }),
  ),
})
export type ThreadAnswer = z.infer<typeof zThread>

/** What can be asked of threads. */
export const threadsOperations = {
  readThread: operation({
    method: 'get',
    path: '/threads/*id',
    summary: 'The thread of anything',
    may: 'member-of-any',
    about: 'nothing',
    answer: zThread,
  }),
}
