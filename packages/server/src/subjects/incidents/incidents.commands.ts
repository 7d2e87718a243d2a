import { Problem } from '@dystracer/core/basics/problem'
import type { IncidentFacts, ItemRole, OpenIncident } from '@dystracer/core/incidents/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { maySee, requireItem } from '#subjects/records/index'
import { requireProject } from '#subjects/setup/index'
import {
  GET_LAST_INCIDENT_NUMBER,
  GET_OPEN_INCIDENT_OF_SERVICE,
  HAS_MEMBER,
  HAS_NOTE,
  LIST_INCIDENTS_OF_ITEM,
  LIST_SERVICES,
} from './incidents.queries.js'
import { requireIncident } from './incidents.views.js'

const subjectsOf = (project: string, number: number) => [`incident:${project}/${number}`, `project:${project}`]

/** Opens an incident and gives its number. Throws `invalid-input` for a service or a person that the project does not have. */
export function openIncident(ctx: ServiceContext, who: Who, project: string, input: OpenIncident): number {
  requireProject(ctx.db, project)
  const facts: IncidentFacts = { ...input, startedAtMs: input.startedAtMs ?? ctx.nowMs() }
  requireFacts(ctx, project, facts)
  return ctx.journal.write((writer) => append(ctx, writer, { actor: who.actor, project, facts }))
}

function append(
  ctx: ServiceContext,
  writer: JournalWriter,
  {
    project,
    facts,
    idempotencyKey,
    ...by
  }: { actor: string; cause?: string; atMs?: number; project: string; facts: IncidentFacts; idempotencyKey?: string },
): number {
  const number = (sql(ctx.db, GET_LAST_INCIDENT_NUMBER).get<{ number: number | null }>({ project })?.number ?? 0) + 1
  writer.append({
    ...by,
    kind: 'incident-opened',
    subjects: subjectsOf(project, number),
    ...(idempotencyKey !== undefined && { idempotencyKey }),
    body: { project, number, ...facts },
  })
  return number
}

function requireFacts(ctx: ServiceContext, project: string, { service, leadId }: Partial<IncidentFacts>): void {
  const services = sql(ctx.db, LIST_SERVICES).all<{ name: string }>({ project })
  if (service && !services.some((known) => known.name === service))
    throw new Problem('invalid-input', { fields: { service: `${project} has no service ${service}` } })
  if (leadId && !sql(ctx.db, HAS_MEMBER).get({ project, personId: leadId }))
    throw new Problem('invalid-input', { fields: { leadId: 'They are no member of this project' } })
}

/** Says something else of an incident; what is as it was changes nothing. Throws `not-found`, `invalid-input`. */
export function changeIncident(ctx: ServiceContext, who: Who, project: string, number: number, input: Partial<IncidentFacts>): void {
  const row = requireIncident(ctx, project, number)
  requireFacts(ctx, project, input)
  const changes = Object.fromEntries(Object.entries(input).filter(([name, value]) => row[name as keyof IncidentFacts] !== value))
  if (Object.keys(changes).length === 0) return
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'incident-changed',
      actor: who.actor,
      subjects: subjectsOf(project, number),
      body: { project, number, changes },
    })
  })
}

/** Notes what was seen or done. Throws `not-found`. */
export function noteIncident(
  ctx: ServiceContext,
  who: Who,
  of: { project: string; number: number },
  { text, happenedAtMs = ctx.nowMs() }: { text: string; happenedAtMs?: number },
): void {
  requireIncident(ctx, of.project, of.number)
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'incident-noted',
      actor: who.actor,
      subjects: subjectsOf(of.project, of.number),
      body: { ...of, noteId: ctx.newId(), text, happenedAtMs },
    })
  })
}

/** Takes a note back. Throws `not-found`. */
export function removeNote(ctx: ServiceContext, who: Who, of: { project: string; number: number }, noteId: string): void {
  if (!sql(ctx.db, HAS_NOTE).get({ noteId, ...of })) throw new Problem('not-found', { detail: 'There is no such note.' })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'incident-note-removed',
      actor: who.actor,
      subjects: subjectsOf(of.project, of.number),
      body: { ...of, noteId },
    })
  })
}

/** Says since when it is over, or that it goes on. Throws `not-found`, `invalid-input` for an end before its beginning. */
export function endIncident(ctx: ServiceContext, who: Who, of: { project: string; number: number }, overAtMs: number | null): void {
  const row = requireIncident(ctx, of.project, of.number)
  if (overAtMs !== null && overAtMs < row.startedAtMs)
    throw new Problem('invalid-input', { fields: { overAtMs: 'That is before it began' } })
  if (row.overAtMs === overAtMs) return
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'incident-ended',
      actor: who.actor,
      subjects: subjectsOf(of.project, of.number),
      body: { ...of, overAtMs },
    })
  })
}

/** Says how an item belongs to an incident. Throws `not-found` for either. */
export function tieItem(ctx: ServiceContext, who: Who, of: { project: string; number: number }, key: string, role: ItemRole | null): void {
  requireIncident(ctx, of.project, of.number)
  const item = requireItem(ctx, key)
  if (!maySee(ctx.db, who, item.key)) throw new Problem('not-found', { detail: `There is no item ${key}.` })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'incident-item-tied',
      actor: who.actor,
      subjects: [...subjectsOf(of.project, of.number), `item:${item.key}`],
      body: { ...of, key: item.key, role },
    })
  })
}

/** An incident that a service outside told of, with the item that was logged for it. To be called inside the write; once for each key. */
export function openToldIncident(
  ctx: ServiceContext,
  writer: JournalWriter,
  told: { project: string; item: string; facts: IncidentFacts; idempotencyKey: string },
): void {
  const number = append(ctx, writer, { actor: 'system', project: told.project, facts: told.facts, idempotencyKey: told.idempotencyKey })
  tieReport(writer, { ...told, by: { actor: 'system' }, number })
}

/** What a rule opens an incident with. */
interface RuledIncident {
  project: string
  by: { actor: `rule:${string}`; cause: string; atMs: number }
  title: string
  /** What is noted where an incident is open already. */
  note: string
  severity: number
  service: string
  environment: string
  /** The item that stands for what the rule saw; null where there is none. */
  item: string | null
  idempotencyKey: string
}

/**
 * Opens an incident as a rule says; where one of the same service is open in the same place, it is noted there, so that many faults at once
 * make one incident. To be called inside the write; once for each key.
 */
export function openIncidentByRule(ctx: ServiceContext, writer: JournalWriter, ruled: RuledIncident): void {
  const { project, by, title, note, severity, service, environment, item, idempotencyKey } = ruled
  const open = sql(ctx.db, GET_OPEN_INCIDENT_OF_SERVICE).get<{ number: number }>({ project, service, environment })
  const facts = { title, severity, service, environment, startedAtMs: by.atMs, leadId: null, cause: '' }
  const number = open?.number ?? append(ctx, writer, { ...by, project, facts, idempotencyKey })
  const subjects = subjectsOf(project, number)
  if (open)
    writer.append({
      ...by,
      kind: 'incident-noted',
      subjects,
      idempotencyKey,
      body: { project, number, noteId: ctx.newId(), text: note, happenedAtMs: by.atMs },
    })
  if (item !== null) tieReport(writer, { by, project, number, item, idempotencyKey })
}

/** Notes that an item reports an incident that was opened by itself. */
function tieReport(
  writer: JournalWriter,
  {
    by,
    project,
    number,
    item,
    idempotencyKey,
  }: { by: { actor: string; cause?: string; atMs?: number }; project: string; number: number; item: string; idempotencyKey: string },
): void {
  writer.append({
    ...by,
    kind: 'incident-item-tied',
    subjects: [...subjectsOf(project, number), `item:${item}`],
    idempotencyKey: `${idempotencyKey}/item`,
    body: { project, number, key: item, role: 'report' },
  })
}

/** The incidents that an item reports are over, a service outside says. */
export function endToldIncident(ctx: ServiceContext, key: string, overAtMs: number, idempotencyKey: string): void {
  const open = sql(ctx.db, LIST_INCIDENTS_OF_ITEM)
    .all<{ project: string; number: number; overAtMs: number | null }>({ key })
    .filter((row) => row.overAtMs === null)
  if (open.length === 0) return
  ctx.journal.write((writer) => {
    for (const { project, number } of open)
      writer.append({
        kind: 'incident-ended',
        actor: 'system',
        subjects: subjectsOf(project, number),
        idempotencyKey: `${idempotencyKey}/${project}/${number}`,
        body: { project, number, overAtMs },
      })
  })
}
