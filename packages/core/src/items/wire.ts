import { AFFECTED_GROUNDS, AFFECTED_STATES } from './affected.js'
import { zPageQuery, zPage, zAtMs, zNodeRef } from '#basics/wire'
import { zLadder, zStage } from '#ladder/wire'
import { operation } from '#people/operation'
import { CHANGED_FIELDS, FIELD_SCHEMAS, LOGGED_SHAPE, READ_FIELDS, zHistoryEntry, zItemKey, zItemSummary, zLink } from '#records/wire'
import { LINK_KIND_NAMES } from '#records/link-kinds'
import { z } from 'zod'

/** An item whole: all fields, its ladder, links and what ties it to code. */
export const zItem = zItemSummary.extend({
  ...READ_FIELDS,
  reporterId: z.string().nullable(),
  /** Where it came from when no account reported it: an address, or the public form. */
  cameFrom: z.string().nullable(),
  followerIds: z.array(z.string()),
  /** Sub-items, and how many of them stand where. */
  children: z.array(zItemSummary),
  blockedBy: z.array(z.string()),
  keeperId: z.string().nullable(),
  /** The item that it was found to be the same as and went into. */
  mergedInto: z.string().nullable(),
  /** What its reporter is asked, while it waits for their answer. */
  asked: z.object({ words: z.string(), by: z.string(), untilMs: zAtMs }).nullable(),
  /** Keys that it had before it was moved. */
  aliases: z.array(z.string()),
  spentMinutes: z.number().int(),
  ladder: zLadder,
  links: z.array(zLink),
  proposedBranch: z.string(),
  proposedRepository: z.string().nullable(),
})
export type Item = z.infer<typeof zItem>
/** The item under which this one stands; `null` takes it out. */
export const zSetParent = z.strictObject({ parent: z.string().max(20).nullable() })
/** The one line that names an item. */
export const title = FIELD_SCHEMAS.title
/** The text of an item, in Markdown. */
export const description = FIELD_SCHEMAS.prose
/** A new item. */
export const zLogItem = z.strictObject({
  ...LOGGED_SHAPE,
  /** Left out: the first project that the asker may log in. */
  project: z.string().max(10).optional(),
  requirement: z.string().max(20).nullable().default(null),
  /** The item that it is a part of. */
  parent: z.string().max(20).nullable().default(null),
})
/** A new item as it is sent: defaults may be left out. */
export type LogItem = z.input<typeof zLogItem>
/** Only the fields that change; of `ownValues` only those that do. */
export const zChangeItem = z.strictObject(CHANGED_FIELDS)
export type ChangeItem = z.infer<typeof zChangeItem>
/** Where the work starts: the repository, and a branch name if not the proposed one. */
export const zStartItem = z.strictObject({ repository: z.string().max(100), branch: z.string().max(120).optional() })
/** The branch that was begun and the commands that fetch it. */
export const zStarted = z.object({ branch: z.string(), repository: z.string(), commands: z.array(z.string()) })
export type Started = z.infer<typeof zStarted>
/** What was seen when the fix was checked by hand. */
export const zVerifyItem = z.strictObject({ words: z.string().max(2000).default('') })
/** That a repository needs nothing of an item's fix, and why; null takes it back. */
export const zDeclareUnaffected = z.strictObject({
  repository: z.string().min(1).max(100),
  words: z.string().trim().min(1, 'Say why').max(2000).nullable(),
})
/** Sets a stage by hand, with the reason; it counts as claimed, not proven. */
export const zClaimStage = z.strictObject({ stage: zStage, words: z.string().trim().min(1, 'Say why').max(2000) })
/** The stage whose claim is meant. */
export const zStageOf = z.strictObject({ stage: zStage })
/** A link from this item to another thing. */
export const zAddLink = z.strictObject({
  kind: z.enum(LINK_KIND_NAMES),
  to: zNodeRef,
})
export type AddLink = z.infer<typeof zAddLink>
/** A further report of the same defect. */
export const zReportAgain = z.strictObject({ title, description })
/** Follows an item or stops doing so. */
export const zFollow = z.strictObject({ isOn: z.boolean() })
/** The project to move an item to; the old key stays an alias. */
export const zMoveItem = z.strictObject({ project: z.string().max(10) })
/** One change to many items in one write. */
export const zBulk = z.strictObject({ keys: z.array(zItemKey).min(1).max(5000), change: zChangeItem })
/** What a change of many did: which were changed, and which were refused and why. */
export const zBulkDone = z.object({
  changed: z.number().int(),
  refused: z.array(z.object({ key: z.string(), why: z.string() })),
  /** The journal's entries of it, by which all of it is taken back at once. */
  seqs: z.array(z.number().int()),
})
export type BulkDone = z.infer<typeof zBulkDone>

const zAffectedName = z.string().trim().min(1).max(100)
/** What somebody says of a defect in a release, where that runs; null takes it back. */
export const zSayAffected = z.strictObject({
  service: zAffectedName,
  release: zAffectedName,
  environment: zAffectedName,
  verdict: z.enum(['affected', 'not']).nullable(),
})
/**
 * Which releases a defect is in: for each of the services that it concerns its releases, newest
 * first, with a cell for each environment.
 */
export const zAffected = z.object({
  environments: z.array(z.string()),
  services: z.array(
    z.object({
      service: z.string(),
      releases: z.array(
        z.object({
          release: z.string(),
          atMs: zAtMs,
          cells: z.array(
            z.object({
              environment: z.string(),
              state: z.enum(AFFECTED_STATES),
              /** What it rests on; null where nobody has tried. */
              ground: z.enum(AFFECTED_GROUNDS).nullable(),
              /** Occurrences of its faults there. */
              count: z.number().int(),
              by: z.string().nullable(),
              atMs: zAtMs.nullable(),
              /** What a person said of it, also where evidence counts before that. */
              said: z.enum(['affected', 'not']).nullable(),
            }),
          ),
        }),
      ),
    }),
  ),
})
export type Affected = z.infer<typeof zAffected>

/** What can be asked of items. */
export const itemsOperations = {
  setParent: operation({
    method: 'post',
    path: '/items/:key/parent',
    summary: 'Make an item a part of another one, or of none',
    may: 'items.change',
    about: 'item',
    body: zSetParent,
    answer: zItem,
  }),
  logItem: operation({
    status: 201,
    method: 'post',
    path: '/items',
    summary: 'Log an item',
    may: 'items.log',
    about: 'nothing',
    body: zLogItem,
    answer: zItem,
  }),
  readItem: operation({ method: 'get', path: '/items/:key', summary: 'One item', may: 'project.read', about: 'item', answer: zItem }),
  changeItem: operation({
    method: 'patch',
    path: '/items/:key',
    summary: 'Change fields of an item',
    may: 'items.change',
    about: 'item',
    body: zChangeItem,
    answer: zItem,
  }),
  readLadder: operation({
    method: 'get',
    path: '/items/:key/ladder',
    summary: 'The ladder of an item',
    may: 'project.read',
    about: 'item',
    answer: zLadder,
  }),
  listLinks: operation({
    method: 'get',
    path: '/items/:key/links',
    summary: 'The links of an item',
    may: 'project.read',
    about: 'item',
    answer: z.object({ rows: z.array(zLink) }),
  }),
  addLink: operation({
    method: 'post',
    path: '/items/:key/links',
    summary: 'Tie an item to something',
    may: 'items.change',
    about: 'item',
    body: zAddLink,
    answer: zItem,
  }),
  removeLink: operation({
    method: 'delete',
    path: '/items/:key/links/:linkId',
    summary: 'Untie',
    may: 'items.change',
    about: 'item',
    answer: zItem,
  }),
  readHistory: operation({
    method: 'get',
    path: '/items/:key/history',
    summary: 'What happened to an item, newest first',
    may: 'project.read',
    about: 'item',
    query: zPageQuery,
    answer: zPage(zHistoryEntry),
  }),
  readAffected: operation({
    method: 'get',
    path: '/items/:key/affected',
    summary: 'Which releases a defect is in, by environment, with what says so',
    may: 'project.read',
    about: 'item',
    answer: zAffected,
  }),
  sayAffected: operation({
    method: 'put',
    path: '/items/:key/affected',
    summary: 'Say that a defect is in a release where that runs, or is not, or take that back',
    may: 'items.change',
    about: 'item',
    body: zSayAffected,
    answer: zAffected,
  }),
  reopenItem: operation({
    method: 'post',
    path: '/items/:key/reopen',
    summary: 'Take a decision back',
    may: 'items.change',
    about: 'item',
    body: zVerifyItem,
    answer: zItem,
  }),
  startItem: operation({
    method: 'post',
    path: '/items/:key/start',
    summary: 'Start work: create the branch',
    may: 'items.change',
    about: 'item',
    body: zStartItem,
    answer: zStarted,
    problems: ['outside-unreachable'],
  }),
  verifyItem: operation({
    method: 'post',
    path: '/items/:key/verify',
    summary: 'Verify by a person',
    may: 'items.change',
    about: 'item',
    body: zVerifyItem,
    answer: zItem,
  }),
  claimStage: operation({
    method: 'post',
    path: '/items/:key/claims',
    summary: 'Claim a stage without evidence',
    may: 'items.change',
    about: 'item',
    body: zClaimStage,
    answer: zItem,
  }),
  acceptClaim: operation({
    method: 'post',
    path: '/items/:key/claims/acceptance',
    summary: 'Stand for a claim without evidence, with the reason: it counts from now on',
    may: 'claims.accept',
    about: 'item',
    body: zClaimStage,
    answer: zItem,
  }),
  declareUnaffected: operation({
    method: 'post',
    path: '/items/:key/unaffected',
    summary:
      'Say with a reason that a repository needs nothing of the fix, so that the item does not wait for it; without one, take it back',
    may: 'claims.accept',
    about: 'item',
    body: zDeclareUnaffected,
    answer: zItem,
  }),
  takeBackClaim: operation({
    method: 'post',
    path: '/items/:key/claims/removal',
    summary: 'Take back a claim: one’s own, or as somebody who may accept it',
    may: 'items.change',
    about: 'item',
    body: zStageOf,
    answer: zItem,
  }),
  moveItem: operation({
    method: 'post',
    path: '/items/:key/move',
    summary: 'Move to another project; the old key stays an alias',
    may: 'items.change',
    about: 'item',
    body: zMoveItem,
    answer: zItem,
  }),
  copyItem: operation({ method: 'post', path: '/items/:key/copy', summary: 'Log a copy', may: 'items.log', about: 'item', answer: zItem }),
  followItem: operation({
    method: 'post',
    path: '/items/:key/follow',
    summary: 'Follow, or stop following',
    may: 'project.read',
    about: 'item',
    isPersonal: true,
    body: zFollow,
    answer: zItem,
  }),
  reportAgain: operation({
    method: 'post',
    path: '/items/:key/reports',
    summary: 'Report the same again: it joins the item, and its reporter follows',
    may: 'talk.write',
    about: 'item',
    body: zReportAgain,
    answer: zItem,
  }),
  changeMany: operation({
    method: 'post',
    path: '/items-bulk',
    summary: 'Change many items alike',
    may: 'items.change',
    about: 'nothing',
    body: zBulk,
    answer: zBulkDone,
  }),
}
