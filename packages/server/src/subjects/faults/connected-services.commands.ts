import { Problem } from '@dystracer/core/basics/problem'
import type { z } from 'zod'
import type { ConnectedService, ScrubRule, zChangeService } from '@dystracer/core/faults/services-wire'
import { scrubText } from '@dystracer/core/traces/scrub'
import { sql } from '#platform/db/statements'
import type { Who } from '@dystracer/core/people/who'
import { findAnew } from './source-maps.commands.js'
import type { ServiceContext } from '#platform/context'
import { gitWorker } from '#subjects/git/index'
import { intakeWorker, makeOwnScrub, patternTrouble } from '#subjects/occurrences/index'
import { hiddenServices, itemsOfRepository } from '#subjects/records/index'
import {
  GET_SERVICE_BY_SERVICE,
  HAS_REPOSITORY_BY_REPOSITORY,
  HAS_SCRUB_RULE_BY_RULE_ID,
  HAS_SERVICE_BY_SERVICE,
  LIST_ACTIVITY_MINUTE,
  LIST_FAULT_GROUP,
  LIST_FAULT_GROUP_BY_SERVICE,
  LIST_SCRUB_RULE,
  LIST_SERVICE,
  LIST_SOURCE_MAP,
} from './connected-services.queries.js'

interface ServiceRow {
  name: string
  project: string
  repository: string
  tag_prefix: string
  path_prefix: string
  own_code: string
  foreign_code: string
}

/** Services that are mapped to a repository, and those that were heard without being mapped; when each was last heard. */
export function listConnectedServices(ctx: ServiceContext, who: Who): ConnectedService[] {
  const mapped = sql(ctx.db, LIST_SERVICE).all<ServiceRow>({})
  const heard = new Map(
    sql(ctx.volume, LIST_ACTIVITY_MINUTE)
      .all<{ service: string; at_ms: number }>({})
      .map((row) => [row.service, row.at_ms]),
  )
  const failed = new Map(
    sql(ctx.volume, LIST_FAULT_GROUP)
      .all<{ service: string; at_ms: number }>({})
      .map((row) => [row.service, row.at_ms]),
  )
  const maps = new Map(
    sql(ctx.volume, LIST_SOURCE_MAP)
      .all<{ service: string; count: number }>({})
      .map((row) => [row.service, row.count]),
  )
  const hidden = new Set(JSON.parse(hiddenServices(ctx.db, who)) as string[])
  const names = [...new Set([...mapped.map((row) => row.name), ...heard.keys(), ...failed.keys()])]
    .filter((name) => !hidden.has(name))
    .sort()
  return names.map((service) => {
    const row = mapped.find((known) => known.name === service)
    const lastFaultAtMs = failed.get(service) ?? null
    return {
      service,
      project: row?.project ?? null,
      repository: row?.repository ?? null,
      tagPrefix: row?.tag_prefix ?? null,
      pathPrefix: row?.path_prefix ?? '',
      ownCode: JSON.parse(row?.own_code ?? '[]') as string[],
      foreignCode: JSON.parse(row?.foreign_code ?? '[]') as string[],
      lastHeardAtMs: Math.max(heard.get(service) ?? 0, lastFaultAtMs ?? 0) || null,
      lastFaultAtMs,
      releases: sql(ctx.volume, LIST_FAULT_GROUP_BY_SERVICE)
        .all<{ release: string }>({ service })
        .map((entry) => entry.release),
      maps: maps.get(service) ?? 0,
    }
  })
}

/** Maps a service to what it is built from, and to the tags of its releases. */
export function connectService(
  ctx: ServiceContext,
  who: Who,
  project: string,
  input: { service: string; repository: string; tagPrefix: string; pathPrefix: string },
): void {
  requireRepository(ctx, input.repository)
  if (sql(ctx.db, HAS_SERVICE_BY_SERVICE).get({ service: input.service }))
    throw new Problem('conflict', { detail: `${input.service} is mapped already.` })
  const { service, ...body } = input
  ctx.journal.write((writer) => {
    writer.append({ kind: 'service-added', actor: who.actor, subjects: [`project:${project}`], body: { name: service, project, ...body } })
  })
  forgetCode(ctx)
}

/**
 * Changes what a service is built from and whose code is whose; with `includesEarlier` what it sent before is
 * found anew. Gives how many faults became one with others, and how many are new.
 */
export async function changeService(
  ctx: ServiceContext,
  who: Who,
  service: string,
  { includesEarlier, ...changes }: z.infer<typeof zChangeService>,
): Promise<{ merged: number; made: number }> {
  const row = sql(ctx.db, GET_SERVICE_BY_SERVICE).get<ServiceRow>({ service })
  if (!row) throw new Problem('not-found', { detail: `${service} is not mapped to a repository; map it first.` })
  if (changes.repository !== undefined) requireRepository(ctx, changes.repository)
  const body = {
    name: service,
    repository: changes.repository ?? row.repository,
    tagPrefix: changes.tagPrefix ?? row.tag_prefix,
    pathPrefix: changes.pathPrefix ?? row.path_prefix,
    ownCode: changes.ownCode ?? (JSON.parse(row.own_code) as string[]),
    foreignCode: changes.foreignCode ?? (JSON.parse(row.foreign_code) as string[]),
  }
  ctx.journal.write((writer) => {
    writer.append({ kind: 'service-changed', actor: who.actor, subjects: [`project:${row.project}`], body })
    // Which services a fix counts for may be others now.
    if (body.repository !== row.repository || body.pathPrefix !== row.path_prefix)
      writer.touch([...itemsOfRepository(ctx, row.repository), ...itemsOfRepository(ctx, body.repository)])
  })
  if (includesEarlier) return findAnew(ctx, service, null)
  forgetCode(ctx)
  return { merged: 0, made: 0 }
}

function requireRepository(ctx: ServiceContext, repository: string): void {
  if (!sql(ctx.db, HAS_REPOSITORY_BY_REPOSITORY).get({ repository }))
    throw new Problem('invalid-input', { fields: { repository: `There is no repository ${repository}` } })
}

/** The workers look anew at what they know of the code and of what is to be taken out. */
function forgetCode(ctx: ServiceContext): void {
  ctx.background.add(
    Promise.all([intakeWorker(ctx).call('forgetCode', {}), gitWorker(ctx).call('forgetCode', {})]),
    'telling the workers of a setting',
  )
}

export function listScrubRules(ctx: ServiceContext): ScrubRule[] {
  return sql(ctx.db, LIST_SCRUB_RULE).all<ScrubRule>({})
}

/** Takes more out of all that comes from now on; what is stored stays as it is. Throws `invalid-input` for a pattern that is none. */
export function addScrubRule(ctx: ServiceContext, who: Who, input: { kind: 'text' | 'attribute'; pattern: string; name: string }): void {
  const trouble = input.kind === 'text' ? patternTrouble(input.pattern) : null
  if (trouble !== null) throw new Problem('invalid-input', { fields: { pattern: `Not a pattern: ${trouble}` } })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'scrub-rule-added', actor: who.actor, subjects: [], body: { ruleId: ctx.newId(), ...input } })
  })
  forgetCode(ctx)
}

export function removeScrubRule(ctx: ServiceContext, who: Who, ruleId: string): void {
  if (!sql(ctx.db, HAS_SCRUB_RULE_BY_RULE_ID).get({ ruleId })) throw new Problem('not-found', { detail: 'There is no such rule.' })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'scrub-rule-removed', actor: who.actor, subjects: [], body: { ruleId } })
  })
  forgetCode(ctx)
}

/** A text as it would be stored. */
export function tryScrub(ctx: ServiceContext, text: string): string {
  return scrubText(text, makeOwnScrub(listScrubRules(ctx)))
}

/**
 * Sends an error of its own through the intake, as a program would, so that one sees that the way is open. It says that it is a test, and
 * counts for no release.
 */
export async function sendTestEvent(ctx: ServiceContext, service: string): Promise<void> {
  const text = (key: string, value: string) => ({ key, value: { stringValue: value } })
  const message = `This is a test event for ${service}; nothing is broken`
  const body = {
    resourceLogs: [
      {
        resource: { attributes: [text('service.name', service), text('deployment.environment.name', 'test')] },
        scopeLogs: [
          {
            logRecords: [
              {
                timeUnixNano: `${ctx.nowMs()}000000`,
                severityNumber: 9,
                body: { stringValue: message },
                attributes: [text('exception.type', 'TestEvent'), text('exception.message', message), text('exception.stacktrace', '')],
              },
            ],
          },
        ],
      },
    ],
  }
  const bytes = new TextEncoder().encode(JSON.stringify(body))
  await intakeWorker(ctx).call('take', { signal: 'logs', encoding: 'json', body: bytes, receivedAtMs: ctx.nowMs() })
}
