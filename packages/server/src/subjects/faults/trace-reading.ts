import { gitWorker, mirrorDir, trackedFilesOf } from '#subjects/git/index'
import type { Who } from '@dystracer/core/people/who'
import { visibleItemsTiedTo } from '#subjects/records/index'
import type { FaultDetail, FaultFrames } from '@dystracer/core/faults/wire'
import { decisiveException } from '@dystracer/core/traces/statement'
import { pathOfFrame, TrackedFiles } from '@dystracer/core/traces/tracked-files'
import type { Frame, Trace, TraceException } from '@dystracer/core/traces/trace'
import { sql } from '#platform/db/statements'
import type { ServiceContext } from '#platform/context'
import {
  GET_PATH_PREFIX_OF_SERVICE_BY_SERVICE,
  GET_REPOSITORY_OF_SERVICE_BY_SERVICE,
  GET_SHA_OF_RELEASE_BY_SERVICE_AND_RELEASE,
} from './trace-reading.queries.js'

/** So many own frames of one trace are blamed; more are seldom read. */
const BLAMED_MAX = 6

/** Reads traces with what is known of their releases; a worker does, since that takes git. */
export function readTraces(
  ctx: ServiceContext,
  traces: readonly { stacktrace: string; type: string; message: string; service: string; release: string }[],
): Promise<Trace[]> {
  return gitWorker(ctx).call('readTraces', {
    traces: traces.map(({ stacktrace, type, message, service, release }) => ({ stacktrace, type, message, service, release })),
  })
}

/** The chain of causes, from what was thrown last to the deepest; the one that decides is marked. */
export function causesOf(outermost: TraceException | null): FaultDetail['causes'] {
  const chain: FaultDetail['causes'] = []
  const decisive = outermost && decisiveException(outermost)
  for (let one = outermost; one && chain.length < 20; one = one.cause)
    chain.push({ type: one.type, message: one.message.slice(0, 500), frames: one.frames.length, isDecisive: one === decisive })
  return chain
}

export function repositoryOf(ctx: ServiceContext, service: string): string | null {
  return sql(ctx.db, GET_REPOSITORY_OF_SERVICE_BY_SERVICE).get<{ repository: string }>({ service })?.repository ?? null
}

/** At which commit of which repository frames stand, and the tracked file of each; null where the commit is not here. */
export async function placeFrames(
  ctx: ServiceContext,
  { service, release, language }: { service: string; release: string | null; language: Trace['language'] },
  frames: readonly Frame[],
): Promise<{ repository: string; sha: string; paths: (string | null)[] } | null> {
  const repository = repositoryOf(ctx, service)
  const sha =
    release &&
    sql(ctx.db, GET_SHA_OF_RELEASE_BY_SERVICE_AND_RELEASE).get<{ sha: string }>({
      service,
      release,
    })?.sha
  if (!repository || !sha) return null
  const files = await trackedFilesOf(ctx, repository, sha)
  if (files === null) return null
  const tracked = new TrackedFiles(files, pathPrefixOf(ctx, service))
  const paths = frames.map((frame) => {
    const printed = frame.isApp ? pathOfFrame(frame, language) : null
    return printed === null ? null : tracked.resolve(printed)
  })
  return { repository, sha, paths }
}

/** Frames with their tracked file, source lines and who last changed the line, at a release. */
export async function blameFrames(
  ctx: ServiceContext,
  who: Who,
  of: { service: string; release: string | null; language: Trace['language'] },
  frames: readonly Frame[],
): Promise<FaultFrames['frames']> {
  const plain = (frame: Frame) => ({ ...frame, path: null, source: [], blame: null })
  const placed = await placeFrames(ctx, of, frames)
  // Without the commit the frames are shown without blame.
  if (placed === null) return frames.map(plain)
  const { repository, sha, paths } = placed
  const dir = mirrorDir(ctx, repository)
  let blamed = 0
  return Promise.all(
    frames.map(async (frame, at) => {
      const path = paths[at] ?? null
      if (!path || frame.line === null || blamed++ >= BLAMED_MAX) return { ...plain(frame), path }
      const blame = await gitWorker(ctx).call('blame', { dir, sha, path, line: frame.line })
      if (!blame) return { ...plain(frame), path }
      const items = visibleItemsTiedTo(ctx.db, who, { kind: 'commit', id: `${repository}/${blame.sha}` })
      return {
        ...frame,
        path,
        source: blame.source,
        blame: { sha: blame.sha, author: blame.author, atMs: blame.atMs, subject: blame.subject, items },
      }
    }),
  )
}

function pathPrefixOf(ctx: ServiceContext, service: string): string {
  return sql(ctx.db, GET_PATH_PREFIX_OF_SERVICE_BY_SERVICE).get<{ path_prefix: string }>({ service })?.path_prefix ?? ''
}
