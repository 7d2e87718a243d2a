import { kindOf, lastPart, ownAdditions, readArtefact, type CdEvent } from '@dystracer/core/incoming/cd-event'
import { STRANGER, type Who } from '@dystracer/core/people/who'
import { ENVIRONMENT_KINDS, zEnvironmentName } from '@dystracer/core/releases/wire'
import type { ServiceContext } from '#platform/context'
import { entryByIdempotencyKey } from '#platform/journal/journal.queries'
import { logFound, placeOf } from '#subjects/quality/index'
import { seeDeployment, seeEnvironment } from '#subjects/releases/index'
import { endToldIncident, openToldIncident } from '#subjects/incidents/index'
import { addComment } from '#subjects/talk/index'
import { placeService, Unplaced } from './places.js'

/** A release runs somewhere now. */
export function tellService(ctx: ServiceContext, who: Who | null, event: CdEvent): string | null {
  const { predicate } = kindOf(event)
  if (predicate === 'removed' || predicate === 'published') return `Of a service that was ${predicate} nothing follows here.`
  const own = ownAdditions(event)
  const { content } = event.subject
  const artefact = readArtefact(content.artifactId)
  const service = placeService(ctx.db, who, [own.service, content.service?.id, event.subject.id, artefact?.name])
  const release = own.release ?? artefact?.version ?? null
  const environment = own.environment ?? (content.environment === undefined ? null : lastPart(content.environment.id))
  if (release === null) return 'The message does not say which release: name the artefact with its version, or customData.release.'
  if (environment === null) return 'The message does not say in which environment.'
  const idempotencyKey = `${event.context.source}#${event.context.id}`
  const isSeen = seeDeployment(ctx, {
    deploymentId: own.deploymentId ?? idempotencyKey.slice(0, 100),
    service: service.name,
    release,
    environment,
    by: own.by ?? null,
    atMs: Date.parse(event.context.timestamp),
    idempotencyKey,
  })
  if (!isSeen) throw new Unplaced(`environment ${environment}`)
  return null
}

/** An environment is heard of: it is set up as one of the tests unless its name says its kind; people say what it is for. */
export function tellEnvironment(ctx: ServiceContext, who: Who | null, event: CdEvent): string | null {
  const { predicate } = kindOf(event)
  if (predicate === 'deleted') return 'An environment is taken away on screen, since its past hangs on it.'
  if (who?.limits?.project) return 'An environment is the whole installation’s; this token is for one project.'
  const parsed = zEnvironmentName.safeParse(event.subject.content.name ?? lastPart(event.subject.id))
  if (!parsed.success) return `“${event.subject.id}” cannot be the name of an environment.`
  const kind = ENVIRONMENT_KINDS.find((known) => known !== 'production' && parsed.data.toLowerCase().includes(known)) ?? 'test'
  return seeEnvironment(ctx, { name: parsed.data, kind, idempotencyKey: `${event.context.source}#${event.context.id}` })
    ? null
    : 'It is set up already.'
}

/** An incident is opened, with an item that waits in Triage; its end ends it and is a comment there. */
export function tellIncident(ctx: ServiceContext, who: Who | null, event: CdEvent): string | null {
  const { content, id } = event.subject
  const own = ownAdditions(event)
  const service = placeService(ctx.db, who, [own.service, content.service?.id, readArtefact(content.artifactId)?.name])
  const place = placeOf(ctx, service.repository)
  if (!place) throw new Unplaced(`project with the service ${service.name}`)
  const idempotencyKey = `incident/${event.subject.source ?? event.context.source}/${id}`
  const { predicate } = kindOf(event)
  if (predicate === 'resolved') {
    const logged = entryByIdempotencyKey(ctx.db, idempotencyKey)
    if (!logged) return 'This incident was never told of here.'
    const text =
      `The incident is resolved, says ` +
      `${event.context.source}.${content.description ? `\n\n> ${content.description.replaceAll('\n', '\n> ')}` : ''}`
    const { key } = logged.body as { key: string }
    endToldIncident(ctx, key, Date.parse(event.context.timestamp), `${idempotencyKey}/over`)
    addComment(ctx, STRANGER, key, {
      text,
      from: event.context.source,
      messageId: `${event.context.source}#${event.context.id}`,
    })
    return null
  }
  const environment = own.environment ?? (content.environment === undefined ? undefined : lastPart(content.environment.id))
  const title = content.description?.split('\n', 1)[0]?.trim() || `Incident ${id}`
  ctx.journal.write((writer) => {
    if (entryByIdempotencyKey(ctx.db, idempotencyKey)) return
    const item = logFound(ctx, writer, {
      ...place,
      idempotencyKey,
      title,
      description: [
        `${event.context.source} reports the incident ${id} of ${service.name}${environment ? ` in ${environment}` : ''}.`,
        content.description ? `> ${content.description.replaceAll('\n', '\n> ')}` : '',
      ]
        .filter(Boolean)
        .join('\n\n'),
      cause: 'incident',
      source: `repository:${service.repository}`,
      paths: [],
    })
    openToldIncident(ctx, writer, {
      project: place.project,
      item,
      facts: {
        title: title.slice(0, 200),
        // How bad it is people say: until then it stands in the middle.
        severity: 3,
        service: service.name,
        environment: environment?.slice(0, 100) ?? 'production',
        startedAtMs: Date.parse(event.context.timestamp),
        leadId: null,
        cause: '',
      },
      idempotencyKey: `${idempotencyKey}/opened`,
    })
  })
  return null
}
