import { Problem } from '@dystracer/core/basics/problem'
import type { ConnectedService } from '@dystracer/core/contract/evidence'
import { sql } from '../db/statements.js'
import { requireRole, type Who } from './access.js'
import type { ServiceContext } from './service-context.js'

/** Services that are mapped to a repository, and those that were heard without being mapped; when each was last heard. */
export function listConnectedServices(ctx: ServiceContext): ConnectedService[] {
  const mapped = sql<object, { name: string; project: string; repository: string; tag_prefix: string }>(
    ctx.db,
    'SELECT name, project, repository, tag_prefix FROM service ORDER BY name LIMIT 500',
  ).all({})
  const heard = new Map(
    sql<object, { service: string; at_ms: number }>(
      ctx.volume,
      'SELECT service, max(last_at_ms) AS at_ms FROM activity_minute GROUP BY service LIMIT 1000',
    )
      .all({})
      .map((row) => [row.service, row.at_ms]),
  )
  const failed = new Map(
    sql<object, { service: string; at_ms: number }>(
      ctx.volume,
      'SELECT service, max(last_at_ms) AS at_ms FROM fault_group GROUP BY service LIMIT 1000',
    )
      .all({})
      .map((row) => [row.service, row.at_ms]),
  )
  const maps = new Map(
    sql<object, { service: string; count: number }>(ctx.volume, 'SELECT service, count(*) AS count FROM source_map GROUP BY service LIMIT 1000')
      .all({})
      .map((row) => [row.service, row.count]),
  )
  const names = [...new Set([...mapped.map((row) => row.name), ...heard.keys(), ...failed.keys()])].sort()
  return names.map((service) => {
    const row = mapped.find((known) => known.name === service)
    const lastFaultAtMs = failed.get(service) ?? null
    return {
      service,
      project: row?.project ?? null,
      repository: row?.repository ?? null,
      tagPrefix: row?.tag_prefix ?? null,
      lastHeardAtMs: Math.max(heard.get(service) ?? 0, lastFaultAtMs ?? 0) || null,
      lastFaultAtMs,
      releases: sql<object, { release: string }>(
        ctx.volume,
        `SELECT DISTINCT r.release FROM fault_group g JOIN fault_release r ON r.fingerprint = g.fingerprint WHERE g.service = @service AND r.release <> '' ORDER BY r.release DESC LIMIT 5`,
      )
        .all({ service })
        .map((entry) => entry.release),
      maps: maps.get(service) ?? 0,
    }
  })
}

/** Maps a service to the repository that it is built from, and to the tags of its releases. */
export function connectService(
  ctx: ServiceContext,
  who: Who,
  project: string,
  input: { service: string; repository: string; tagPrefix: string },
): void {
  requireRole(who, 'lead')
  if (!sql(ctx.db, 'SELECT 1 FROM repository WHERE name = @repository').get({ repository: input.repository }))
    throw new Problem('invalid-input', { fields: { repository: `There is no repository ${input.repository}` } })
  if (sql(ctx.db, 'SELECT 1 FROM service WHERE name = @service').get({ service: input.service }))
    throw new Problem('conflict', { detail: `${input.service} is mapped already.` })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'service-added',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { name: input.service, project, repository: input.repository, tagPrefix: input.tagPrefix },
    })
  })
}

/** Sends an error of its own through the intake, as a program would, so that one sees that the way is open. It says that it is a test, and counts for no release. */
export async function sendTestEvent(ctx: ServiceContext, who: Who, service: string): Promise<void> {
  requireRole(who, 'member')
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
  await ctx.intake.call('take', { signal: 'logs', encoding: 'json', body: bytes, receivedAtMs: ctx.nowMs() })
}
