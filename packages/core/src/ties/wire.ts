import { zNodeRef, zPage, zPageQuery } from '#basics/wire'
import { zCommitSummary } from '#code/wire'
import { operation } from '#people/operation'
import { zItemKey, zLink } from '#records/wire'
import { z } from 'zod'
import { TIE_REASONS } from './commit-links.js'

/** An item that a commit may be for, with why. */
export const zTieProposal = z.object({
  key: zItemKey,
  title: z.string(),
  likelihood01: z.number().min(0).max(1),
  isSure: z.boolean(),
  reasons: z.array(z.enum(TIE_REASONS)),
  /** The words that both share, rarest first. */
  words: z.array(z.string()),
})
/** A commit on the main line that no item asked for, with those that may have. */
export const zUnexplainedCommit = zCommitSummary.extend({
  files: z.array(z.string()),
  proposals: z.array(zTieProposal),
})
export type UnexplainedCommit = z.infer<typeof zUnexplainedCommit>

const zUnexplainedQuery = zPageQuery.extend({ repository: z.string().max(100).optional() })
const zCommitRef = z.strictObject({ sha: z.string().regex(/^[0-9a-f]{40,64}$/, 'A whole hash') })

/** What people make of commits without an item: each tied to one, told not to be one's, or told to need none. */
export const zTieDecisions = z.strictObject({
  decisions: z
    .array(
      z.discriminatedUnion('what', [
        zCommitRef.extend({ what: z.literal('tie'), key: zItemKey }),
        zCommitRef.extend({ what: z.literal('refuse'), key: zItemKey }),
        zCommitRef.extend({ what: z.literal('needs-none') }),
        zCommitRef.extend({ what: z.literal('needs-one') }),
      ]),
    )
    .min(1, 'Nothing was decided')
    .max(200, 'At most 200 at a time'),
})
export type TieDecision = z.output<typeof zTieDecisions>['decisions'][number]

/** What can be asked of the ties between code and items. */
export const tiesOperations = {
  listUnexplained: operation({
    method: 'get',
    path: '/unexplained-commits',
    summary: 'Commits on main lines that no item asked for, newest first, each with the items that it may be for and why',
    may: 'member-of-any',
    about: 'nothing',
    query: zUnexplainedQuery,
    answer: zPage(zUnexplainedCommit),
  }),
  decideTies: operation({
    method: 'post',
    path: '/repositories/:repository/tie-decisions',
    summary: 'Tie commits to items, say that they are not for those items, or that they need none',
    may: 'code.contribute',
    about: 'repository',
    body: zTieDecisions,
    answer: z.object({ done: z.number().int() }),
  }),
  readTies: operation({
    method: 'get',
    path: '/ties',
    summary: 'What a commit, branch or pull request is tied to, each with who or what says so',
    may: 'member-of-any',
    about: 'nothing',
    query: z.object({ kind: zNodeRef.shape.kind, id: z.string().min(1).max(500) }),
    answer: z.object({ rows: z.array(zLink), needsNone: z.boolean() }),
  }),
}
