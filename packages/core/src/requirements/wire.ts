import { zNodeRef, zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { zProjectPrefix } from '#people/wire'
import { zItemSummary } from '#records/wire'
import { z } from 'zod'
import { zAttributes } from './attributes.js'

/** A requirement as a line of its document. */
export const zRequirement = z.object({
  key: z.string(),
  title: z.string(),
  text: z.string(),
  parent: z.string().nullable(),
  isHeading: z.boolean(),
  /** Whether it holds no more: it keeps its key and its past, and nothing new is asked of it. */
  isRetired: z.boolean(),
  revision: z.number().int(),
  implementedBy: z.number().int(),
  brokenBy: z.array(z.string()),
  tests: z.number().int(),
  failingTests: z.number().int(),
  /** Ties that were made for an older text and that nobody has looked at since. */
  suspects: z.number().int(),
})
export type Requirement = z.infer<typeof zRequirement>
/** A requirement with its text, its revisions and what stands for it. */
export const zRequirementDetail = zRequirement.extend({
  attributes: zAttributes,
  /** How it hangs together with other requirements, seen from it. */
  relations: z.array(
    z.object({
      relationId: z.string(),
      name: z.string(),
      /** Whether it says so of the other; else the other says so of it. */
      isOut: z.boolean(),
      other: z.object({ key: z.string(), title: z.string() }),
      words: z.string(),
    }),
  ),
  items: z.array(
    zItemSummary.extend({ linkKind: z.string(), linkId: z.string(), isSuspect: z.boolean(), madeForRevision: z.number().int().nullable() }),
  ),
  children: z.array(z.string()),
  /** Why it holds no more. */
  retiredWords: z.string().nullable(),
  verifiedBy: z.array(z.object({ test: z.string(), outcome: z.string(), build: zNodeRef })),
  /** What people found when they did test cases that verify it: the newest in each environment. */
  checks: z.array(
    z.object({
      number: z.number().int(),
      title: z.string(),
      environment: z.string(),
      outcome: z.enum(['passed', 'failed', 'blocked', 'skipped']),
      by: z.string(),
      atMs: zAtMs,
      /** Whether the case or the requirement was written anew since: it proves nothing any more. */
      isStale: z.boolean(),
    }),
  ),
  revisions: z.array(
    z.object({
      revision: z.number().int(),
      title: z.string(),
      text: z.string(),
      /** Why it was changed. */
      because: z.string(),
      isMinor: z.boolean(),
      atMs: zAtMs,
      by: z.string().nullable(),
    }),
  ),
})
export type RequirementDetail = z.infer<typeof zRequirementDetail>
/** A new title and text; a changed text is a new revision. */
export const zWriteRequirement = z.strictObject({
  title: z.string().trim().min(1).max(200),
  text: z.string().max(20_000),
  /** Why it is changed. */
  because: z.string().trim().max(2000).default(''),
  /** Only its spelling changes: ties that hold go on to hold. Refused where a word with weight changed. */
  isMinor: z.boolean().default(false),
})
/** Ties that still hold for the text as it is now. */
export const zConfirmLinks = z.strictObject({
  linkIds: z.array(z.string().max(100)).min(1).max(500),
  /** The revision that they hold for; left out, the newest. An earlier one takes a confirmation back. */
  revision: z.number().int().min(1).optional(),
})

/** Where a requirement stands: below which, and before which of those there; null for nothing, and for the end. */
export const zPlaceRequirement = z.strictObject({
  parent: z.string().trim().toUpperCase().max(20).nullable(),
  before: z.string().trim().toUpperCase().max(20).nullable().default(null),
})
/** Why a requirement holds no more. */
export const zRetireRequirement = z.strictObject({ words: z.string().trim().min(1, 'Say why').max(2000) })

/** A requirement to write, and where in the document. */
export const zBeginRequirement = z.strictObject({
  /** Of its key; one that nobody has yet becomes the project's. */
  prefix: zProjectPrefix,
  title: zWriteRequirement.shape.title,
  text: zWriteRequirement.shape.text.default(''),
  /** What it stands below. */
  parent: z.string().trim().toUpperCase().max(20).nullable().default(null),
  /** Whether it only gathers those below it. */
  isHeading: z.boolean().default(false),
  /** The one that it stands right behind, on the same level; `parent` then says nothing. */
  after: z.string().trim().toUpperCase().max(20).nullable().default(null),
})
/** A requirement to write, with nothing left open. */
export type BeginRequirement = z.output<typeof zBeginRequirement>

/** A requirement that becomes two: what it says from now on, and what a new one right behind it says. */
export const zSplitRequirement = z.strictObject({
  text: z.string().trim().min(1, 'Something has to stay').max(20_000),
  rest: z.string().trim().min(1, 'Something has to go').max(20_000),
  /** The revision that is split: a newer one is refused. */
  revision: z.number().int(),
})
/** Two requirements that become one: the second is retired, and what stands below it goes below the first. */
export const zJoinRequirement = z.strictObject({
  /** The one that it is joined to. */
  to: z.string().trim().toUpperCase().max(20),
  /** The revisions of both: newer ones are refused. */
  revision: z.number().int(),
  toRevision: z.number().int(),
})

/** What can be asked of requirements. */
export const requirementsOperations = {
  listRequirements: operation({
    method: 'get',
    path: '/requirements',
    summary: 'All requirements in document order',
    may: 'member-of-any',
    about: 'nothing',
    answer: z.object({ rows: z.array(zRequirement) }),
  }),
  readRequirement: operation({
    method: 'get',
    path: '/requirements/:key',
    summary: 'One requirement',
    may: 'project.read',
    about: 'requirement',
    answer: zRequirementDetail,
  }),
  beginRequirement: operation({
    method: 'post',
    path: '/projects/:project/requirements',
    summary: 'Begin a requirement; its key is the prefix and the next number',
    may: 'requirements.write',
    about: 'project',
    body: zBeginRequirement,
    answer: zRequirementDetail,
    status: 201,
  }),
  writeRequirement: operation({
    method: 'put',
    path: '/requirements/:key',
    summary: 'Write a new revision',
    may: 'requirements.write',
    about: 'requirement',
    body: zWriteRequirement,
    answer: zRequirementDetail,
  }),
  confirmLinks: operation({
    method: 'post',
    path: '/requirements/:key/confirmations',
    summary: 'Say of ties made for an older text that they hold for this one',
    may: 'items.change',
    about: 'requirement',
    body: zConfirmLinks,
    answer: zRequirementDetail,
  }),
  placeRequirement: operation({
    method: 'put',
    path: '/requirements/:key/place',
    summary: 'Put a requirement elsewhere in its document, with all below it',
    may: 'requirements.write',
    about: 'requirement',
    body: zPlaceRequirement,
    answer: zRequirementDetail,
  }),
  splitRequirement: operation({
    method: 'post',
    path: '/requirements/:key/split',
    summary: 'Make two requirements of one: the rest of its text becomes a new one right behind it',
    may: 'requirements.write',
    about: 'requirement',
    body: zSplitRequirement,
    problems: ['changed-meanwhile'],
    answer: zRequirementDetail,
    status: 201,
  }),
  joinRequirement: operation({
    method: 'post',
    path: '/requirements/:key/join',
    summary: 'Join a requirement to another: its text goes there, and it is retired',
    may: 'requirements.write',
    about: 'requirement',
    body: zJoinRequirement,
    problems: ['changed-meanwhile'],
    answer: zRequirementDetail,
  }),
  retireRequirement: operation({
    method: 'post',
    path: '/requirements/:key/retirement',
    summary: 'Say that a requirement holds no more; its key and its past stay',
    may: 'requirements.write',
    about: 'requirement',
    body: zRetireRequirement,
    answer: zRequirementDetail,
  }),
  restoreRequirement: operation({
    method: 'delete',
    path: '/requirements/:key/retirement',
    summary: 'Let a retired requirement hold again',
    may: 'requirements.write',
    about: 'requirement',
    answer: zRequirementDetail,
  }),
}
