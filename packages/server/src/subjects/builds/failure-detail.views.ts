import { readExpectedActual } from '@dystracer/core/builds/expected-actual'
import { codeOfTest } from '@dystracer/core/builds/test-code'
import type { FailureDetail } from '@dystracer/core/builds/wire'
import { decisiveException } from '@dystracer/core/traces/statement'
import type { Trace } from '@dystracer/core/traces/trace'
import { readTrace } from '@dystracer/core/traces/read-trace'
import { pathOfFrame, TrackedFiles } from '@dystracer/core/traces/tracked-files'
import { Problem } from '@dystracer/core/basics/problem'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { textAt, trackedFilesOf } from '#subjects/git/index'
import { GET_FAILED_TEST, LIST_ATTEMPT } from './failures.queries.js'
import { requireBuild } from './failures.views.js'

const FRAMES_MAX = 4
const LINES_AROUND = 3

/** One failed test of a build read closely. Where the commit is not here, what needs it is left out. Throws `not-found`. */
export async function readFailure(
  ctx: ServiceContext,
  repository: string,
  number: number,
  { suite, name }: { suite: string; name: string },
): Promise<FailureDetail> {
  const { sha } = requireBuild(ctx, repository, number)
  const failed = sql(ctx.db, GET_FAILED_TEST).get<{ message: string; file: string | null }>({ repository, number, suite, name })
  if (!failed) throw new Problem('not-found', { detail: `The test “${name}” does not fail in this build.` })
  const tracked = new TrackedFiles((sha === '' ? null : await trackedFilesOf(ctx, repository, sha)) ?? [])
  const frames = await framesIn(ctx, { repository, sha, message: failed.message }, tracked)
  const values = readExpectedActual(failed.message)
  return {
    expected: values?.expected ?? null,
    actual: values?.actual ?? null,
    frames,
    code: await codeOf(ctx, { repository, sha, name }, [failed.file, suite, ...frames.map(({ path }) => path)], tracked),
    attempts: sql(ctx.db, LIST_ATTEMPT).all<FailureDetail['attempts'][number]>({ repository, number, sha, suite, name }),
  }
}

/** The repository's own places in what a test said, with the lines around each. */
async function framesIn(
  ctx: ServiceContext,
  { repository, sha, message }: { repository: string; sha: string; message: string },
  tracked: TrackedFiles,
): Promise<FailureDetail['frames']> {
  const frames: FailureDetail['frames'] = []
  for (const { path, ...frame } of tracesIn(message).flatMap((trace) => ownFrames(trace, tracked))) {
    if (frame.line === null || frames.some((known) => known.path === path && known.line === frame.line)) continue
    const lines = (await textAt(ctx, repository, sha, path))?.split('\n')
    if (!lines || frame.line > lines.length) continue
    const from = Math.max(1, frame.line - LINES_AROUND)
    const source = { from, lines: lines.slice(from - 1, frame.line + LINES_AROUND) }
    frames.push({ function: frame.function, path, line: frame.line, source })
    if (frames.length === FRAMES_MAX) break
  }
  return frames
}

/** The traces in a message: some runners print what caused a failure as a property of what they throw themselves. */
function tracesIn(message: string): Trace[] {
  const [first = '', ...causes] = message.split(/^\s*(?:\[cause\]|cause):\s*/m)
  return [...causes.reverse(), first].map((text) => readTrace(text.replace(/^ {2}/gm, '')))
}

function ownFrames(
  { exception, language }: Trace,
  tracked: TrackedFiles,
): { path: string; function: string | null; line: number | null }[] {
  return decisiveException(exception).frames.flatMap((frame) => {
    const printed = pathOfFrame(frame, language)
    const path = printed === null ? null : tracked.resolve(printed)
    return path === null ? [] : [{ path, function: frame.function, line: frame.line }]
  })
}

/** The code of a test, in the first of some places that holds its name. */
async function codeOf(
  ctx: ServiceContext,
  { repository, sha, name }: { repository: string; sha: string; name: string },
  places: readonly (string | null)[],
  tracked: TrackedFiles,
): Promise<FailureDetail['code']> {
  for (const place of new Set(places)) {
    const path = place === null || place === '' ? null : tracked.resolve(place)
    const text = path === null ? null : await textAt(ctx, repository, sha, path)
    const code = text === null ? null : codeOfTest(text, name)
    if (path !== null && code !== null) return { path, ...code }
  }
  return null
}
