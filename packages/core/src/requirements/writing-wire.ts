import { operation } from '#people/operation'
import { z } from 'zod'
import { WRITING_CODES } from './writing.js'

/** A finding that somebody lets stand, with the reason. */
export const zAcceptedWriting = z.object({
  key: z.string(),
  code: z.enum(WRITING_CODES),
  words: z.string(),
  reason: z.string(),
  by: z.string(),
})
export type AcceptedWriting = z.infer<typeof zAcceptedWriting>
const answer = z.object({ accepted: z.array(zAcceptedWriting) })

/** What can be asked of how requirements are written; the findings follow from the texts by `findWriting`. */
export const writingOperations = {
  listAcceptedWriting: operation({
    method: 'get',
    path: '/projects/:project/accepted-writing',
    summary: 'Findings of how requirements are written that somebody lets stand',
    may: 'project.read',
    about: 'project',
    answer,
  }),
  acceptWriting: operation({
    method: 'put',
    path: '/projects/:project/accepted-writing',
    summary: 'Let a finding of how a requirement is written stand, with the reason, or (null) let it count again',
    may: 'requirements.write',
    about: 'project',
    body: z.strictObject({
      key: z.string().trim().toUpperCase().max(20),
      code: z.enum(WRITING_CODES),
      words: z.string().min(1).max(500),
      reason: z.string().trim().min(1, 'Say why').max(2000).nullable(),
    }),
    answer,
  }),
}
