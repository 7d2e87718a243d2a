import { zAtMs, zEmpty, zPage, zPageQuery } from '#basics/wire'
import { operation } from '#people/operation'
import { z } from 'zod'

/** How an item belongs to an incident: it is the incident as somebody reported it, it caused it, or it is to be done after it. */
export const ITEM_ROLES = ['report', 'cause', 'follow-up'] as const
/** One of them. */
export type ItemRole = (typeof ITEM_ROLES)[number]

const zFacts = {
  title: z.string().trim().min(1, 'Say in one line what people notice').max(200),
  severity: z.number().int().min(1).max(5),
  /** The service that it is in; null where it is in several, or nobody knows. */
  service: z.string().max(100).nullable(),
  environment: z.string().trim().min(1).max(100),
  startedAtMs: zAtMs,
  /** Who leads the way out of it. */
  leadId: z.string().max(100).nullable(),
  /** Why it came about, in Markdown; empty while nobody knows. */
  cause: z.string().max(20_000),
}
const zIncidentFacts = z.strictObject(zFacts)
/** What people say of an incident. */
export type IncidentFacts = z.output<typeof zIncidentFacts>
/** A row of the list. */
export const zIncident = z.object({
  ...zFacts,
  title: z.string(),
  number: z.number().int(),
  overAtMs: zAtMs.nullable(),
  /** How many items are to be done after it, and how many of them are not settled. */
  followUps: z.number().int(),
  openFollowUps: z.number().int(),
})
export type Incident = z.infer<typeof zIncident>

/**
 * Something that happened around an incident, gathered by itself but for notes. `about` is the id of what it was about: the release that
 * was brought somewhere (`detail` says its state), the fault that was first seen, the pull request that was merged.
 */
export const zIncidentEntry = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('began'), atMs: zAtMs }),
  z.object({ kind: z.literal('over'), atMs: zAtMs }),
  z.object({ kind: z.literal('note'), atMs: zAtMs, noteId: z.string(), text: z.string(), by: z.string() }),
  z.object({ kind: z.literal('deployment'), atMs: zAtMs, about: z.string(), environment: z.string(), state: z.string() }),
  z.object({ kind: z.literal('fault'), atMs: zAtMs, about: z.string(), title: z.string() }),
  z.object({ kind: z.literal('merge'), atMs: zAtMs, about: z.string(), title: z.string() }),
])
export type IncidentEntry = z.infer<typeof zIncidentEntry>
/** An incident whole. */
export const zIncidentDetail = zIncident.extend({
  project: z.string(),
  openedBy: z.string(),
  items: z.array(z.object({ key: z.string(), title: z.string(), role: z.enum(ITEM_ROLES), isOpen: z.boolean() })),
  /** What ran in its environment while it lasted, in the order in which it came there. */
  releases: z.array(z.object({ release: z.string(), fromMs: zAtMs, toMs: zAtMs.nullable() })),
  /** Requirements that the items behind it break. */
  requirements: z.array(z.string()),
  /** The faults that occurred most while it lasted. */
  faults: z.array(z.object({ fault: z.string(), title: z.string(), count: z.number().int() })),
  /** Oldest first; what changed in the day before it began stands before it. */
  entries: z.array(zIncidentEntry),
})
export type IncidentDetail = z.infer<typeof zIncidentDetail>

/** An incident as somebody opens it. */
export const zOpenIncident = z.strictObject({
  ...zFacts,
  service: zFacts.service.default(null),
  environment: zFacts.environment.default('production'),
  /** Left out, it begins now. */
  startedAtMs: zAtMs.optional(),
  leadId: zFacts.leadId.default(null),
  cause: zFacts.cause.default(''),
})
/** One with nothing left open but its beginning. */
export type OpenIncident = z.output<typeof zOpenIncident>

const ofProject = { about: 'project' } as const
const incidents = '/projects/:project/incidents'
const incident = `${incidents}/:number`
/** What can be asked of incidents. */
export const incidentsOperations = {
  listIncidents: operation({
    method: 'get',
    path: incidents,
    summary: 'The incidents of a project, newest first',
    may: 'project.read',
    ...ofProject,
    query: zPageQuery,
    answer: zPage(zIncident),
  }),
  openIncident: operation({
    method: 'post',
    path: incidents,
    summary: 'Say that something goes wrong for people now, or went wrong',
    may: 'incidents.handle',
    ...ofProject,
    body: zOpenIncident,
    answer: zIncidentDetail,
    status: 201,
  }),
  readIncident: operation({
    method: 'get',
    path: incident,
    summary: 'An incident with all that happened around it',
    may: 'project.read',
    ...ofProject,
    answer: zIncidentDetail,
  }),
  changeIncident: operation({
    method: 'patch',
    path: incident,
    summary: 'Say something else of an incident: how bad it is, who leads, since when, why',
    may: 'incidents.handle',
    ...ofProject,
    body: zIncidentFacts.partial(),
    answer: zIncidentDetail,
  }),
  noteIncident: operation({
    method: 'post',
    path: `${incident}/notes`,
    summary: 'Note what was seen or done, and when',
    may: 'incidents.handle',
    ...ofProject,
    body: z.strictObject({ text: z.string().trim().min(1, 'Say what was seen or done').max(5000), happenedAtMs: zAtMs.optional() }),
    answer: zIncidentDetail,
    status: 201,
  }),
  removeIncidentNote: operation({
    method: 'delete',
    path: `${incident}/notes/:note`,
    summary: 'Take a note back',
    may: 'incidents.handle',
    ...ofProject,
    answer: zEmpty,
  }),
  endIncident: operation({
    method: 'put',
    path: `${incident}/end`,
    summary: 'Say since when an incident is over, or (null) that it goes on',
    may: 'incidents.handle',
    ...ofProject,
    body: z.strictObject({ overAtMs: zAtMs.nullable() }),
    answer: zIncidentDetail,
  }),
  tieIncidentItem: operation({
    method: 'put',
    path: `${incident}/items/:key`,
    summary: 'Say how an item belongs to an incident, or (null) that it does not',
    may: 'incidents.handle',
    ...ofProject,
    body: z.strictObject({ role: z.enum(ITEM_ROLES).nullable() }),
    answer: zIncidentDetail,
  }),
}
