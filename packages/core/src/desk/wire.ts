import { zNodeRef, zAtMs } from '#basics/wire'
import { zLadder } from '#ladder/wire'
import { zFound } from '#looking/wire'
import { operation } from '#people/operation'
import { zPerson, zSignIn, zSignUp } from '#people/wire'
import { zItemSummary } from '#records/wire'
import { zProjectSetup } from '#setup/wire'
import { z } from 'zod'

/** A place worth seeing, for somebody who looks at an installation for the first time. */
export const zTourStop = z.object({ title: z.string(), why: z.string(), path: z.string().startsWith('/') })
export type TourStop = z.infer<typeof zTourStop>
/** The asker as the web needs it: person, projects with rights, and set-up. */
export const zMe = z.object({
  person: zPerson.nullable(),
  csrfToken: z.string(),
  project: z.object({ prefix: z.string(), name: z.string() }),
  people: z.array(zPerson),
  components: z.array(z.string()),
  milestones: z.array(z.string()),
  mayReadUnsigned: z.boolean(),
  /** What stands below the sign-in form: the demo names its accounts there. */
  signInHint: z.string().nullable(),
  outsideUrl: z.string().nullable(),
  /** Places worth seeing first; an installation for real use has none. */
  tour: z.array(zTourStop),
  needsFirstAdmin: z.boolean(),
  projects: z.array(z.object({ prefix: z.string(), name: z.string(), isArchived: z.boolean() })),
  labels: z.array(z.string()),
  sprints: z.array(z.string()),
  releases: z.array(z.string()),
  setup: zProjectSetup,
})
export type Me = z.infer<typeof zMe>
/** The counts beside the places in the left index. */
export const zPlaces = z.object({
  desk: z.number().int(),
  triage: z.number().int(),
  items: z.number().int(),
  faults: z.number().int(),
  code: z.number().int(),
  brokenBuilds: z.number().int(),
  /** Incidents that are not over. */
  incidents: z.number().int(),
  approvals: z.number().int(),
  requirements: z.number().int(),
  inbox: z.number().int(),
})
export type Places = z.infer<typeof zPlaces>
/** What a project needs to show its worth, in the order in which a team would do it. */
export const FIRST_STEPS = ['item', 'code', 'requirement', 'people', 'builds', 'program'] as const
/** A step of a project's beginning. */
export type FirstStep = (typeof FIRST_STEPS)[number]
/** What waits for the asker today. */
export const zDesk = z.object({
  /** First steps that nobody has taken yet; empty for whoever sets nothing up. */
  missing: z.array(z.enum(FIRST_STEPS)),
  waiting: z.array(
    z.object({
      why: z.enum(['answer', 'came-back', 'approve', 'review', 'agree', 'make', 'build-broke', 'overdue', 'decide', 'fix', 'verify']),
      ref: zNodeRef,
      title: z.string(),
      detail: z.string(),
      atMs: zAtMs,
      item: zItemSummary.nullable(),
    }),
  ),
  /** Commits of the last week that came to main lines without an item, for who may tie them; at most a hundred are counted. */
  unexplained: z.number().int(),
  /** What is being worked on, and since when. */
  working: z.array(z.object({ item: zItemSummary, sinceMs: zAtMs })),
})
export type Desk = z.infer<typeof zDesk>
/** One thing found by the search over everything. */
export const zSearchHit = z.object({
  ref: zNodeRef,
  title: z.string(),
  detail: z.string(),
  stair: z.string().nullable(),
  /** Where the words stand, for what was found by its words. */
  found: zFound.shape.rows.element.nullable(),
})
export type SearchHit = z.infer<typeof zSearchHit>
/** The words of a search and how many hits are wanted. */
export const zSearchQuery = z.object({ q: z.string().max(200).default(''), limit: z.coerce.number().int().min(1).max(50).default(12) })
/** What a search over everything found, best first. */
export const zSearch = z.object({ hits: z.array(zSearchHit) })
/** One message of the live stream: what changed, so that open screens can patch or fetch anew. */
export const zLiveMessage = z.object({
  seq: z.number().int(),
  kind: z.string(),
  atMs: zAtMs,
  subjects: z.array(z.string()),
  item: zItemSummary.nullable(),
  /** The item's new ladder, when that is what moved. */
  ladder: zLadder.nullable(),
})
export type LiveMessage = z.infer<typeof zLiveMessage>

/** What can be asked of desk. */
export const deskOperations = {
  signIn: operation({
    method: 'post',
    path: '/session',
    summary: 'Sign in',
    may: 'anyone',
    about: 'nothing',
    isSecret: true,
    body: zSignIn,
    answer: zMe,
    problems: ['wrong-credentials', 'second-factor-needed'],
  }),
  signUp: operation({
    method: 'post',
    path: '/sign-up',
    summary: 'Sign up by the link of an invitation, or as the first administrator',
    may: 'anyone',
    about: 'nothing',
    isSecret: true,
    body: zSignUp,
    answer: zMe,
  }),
  readMe: operation({
    method: 'get',
    path: '/me',
    summary: 'Who is asking, and what the interface needs to know',
    may: 'anyone',
    about: 'nothing',
    isOfNow: true,
    answer: zMe,
  }),
  followLive: operation({
    method: 'get',
    path: '/live',
    summary: 'Server-Sent Events from the journal, from ?cursor= or Last-Event-ID',
    may: 'member-of-any',
    about: 'nothing',
    isOfNow: true,
    query: z.object({ cursor: z.string().max(20).optional() }),
    answer: zLiveMessage,
    media: 'text/event-stream',
  }),
  readPlaces: operation({
    method: 'get',
    path: '/places',
    mayTakeLong: true,
    summary: 'Counts of the index',
    may: 'member-of-any',
    about: 'nothing',
    answer: zPlaces,
  }),
  readDesk: operation({
    method: 'get',
    path: '/desk',
    mayTakeLong: true,
    summary: 'What waits and what is under way',
    may: 'member-of-any',
    about: 'nothing',
    answer: zDesk,
  }),
  search: operation({
    method: 'get',
    path: '/search',
    summary: 'Things by key, hash or words',
    may: 'member-of-any',
    about: 'nothing',
    query: zSearchQuery,
    answer: zSearch,
  }),
}
