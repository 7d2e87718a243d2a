import { Problem } from '@dystracer/core/basics/problem'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { followFaults } from './follow-faults.js'
import { noteMergedGroups } from './merges.commands.js'
import { gitWorker } from '#subjects/git/index'
import { intakeWorker, readMapArchive } from '#subjects/occurrences/index'
import { LIST_SERVICE_BY_REPOSITORY } from './source-maps.queries.js'

/**
 * Finds anew what a service sent from one release (null: all), after more became known of its code; faults that turn out to be one become
 * one.
 */
export async function findAnew(ctx: ServiceContext, service: string, release: string | null): Promise<{ merged: number; made: number }> {
  await gitWorker(ctx).call('forgetCode', {})
  const done = await intakeWorker(ctx).call('refind', { service, release })
  noteMergedGroups(ctx)
  followFaults(ctx)
  return done
}
/**
 * Keeps a source map, or all that an artefact of a build holds, for the services of a repository, and finds the faults of that release
 * anew. Gives how many maps were kept. Throws `malformed-body` for a
 * text that is no source map.
 */
export async function receiveSourceMap(
  ctx: ServiceContext,
  input: { repository: string; release: string; file: string; body: Buffer },
): Promise<{ maps: number; merged: number }> {
  const archive = await readMapArchive(input.body)
  const files = archive?.map(({ path, text }) => ({ file: path, text })) ?? [{ file: input.file, text: input.body.toString('utf8') }]
  const services = sql(ctx.db, LIST_SERVICE_BY_REPOSITORY)
    .all<{ name: string }>({ repository: input.repository })
    .map((row) => row.name)
  let merged = 0
  for (const service of services.length > 0 ? services : [input.repository]) {
    const release = input.release.startsWith(`${service}@`)
      ? input.release.slice(service.length + 1)
      : input.release.replace(/^v(?=\d)/, '')
    const answer = await intakeWorker(ctx).call('keepMaps', { service, release, files, receivedAtMs: ctx.nowMs() })
    if ('why' in answer) throw new Problem('malformed-body', { detail: `This is no source map: ${answer.why}` })
    merged += answer.merged
  }
  await gitWorker(ctx).call('forgetCode', {})
  noteMergedGroups(ctx)
  followFaults(ctx)
  return { maps: files.length, merged }
}
