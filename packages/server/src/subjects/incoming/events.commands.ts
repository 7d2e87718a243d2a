import { seePullRequest } from '#subjects/reviews/index'
import { z } from 'zod'
import { Problem } from '@dystracer/core/basics/problem'
import type { ServiceContext } from '#platform/context'
import { itemsOfBuild, logFailingTests, requireRepository } from '#subjects/builds/index'
import { seeDeployment } from '#subjects/releases/index'
import type { RepositorySync } from '#subjects/sync/index'
import type { Who } from '@dystracer/core/people/who'
import { requireRepositoryOf, requireServiceOf } from './senders.js'

/** The envelope of a CDEvents message (cdevents.dev, 0.4): context, subject, and data of the sender's own. */
const zCdEvent = z.object({
  context: z.object({
    id: z.string().max(200),
    source: z.string().max(500),
    type: z.string().max(200),
    timestamp: z.iso.datetime({ offset: true }),
  }),
  subject: z.object({ id: z.string().max(300), content: z.record(z.string(), z.unknown()).default({}) }),
  customData: z.unknown().optional(),
})
const zPullRequestData = z.object({
  repository: z.string().max(100),
  number: z.number().int().positive(),
  title: z.string().max(500),
  body: z.string().max(100_000),
  state: z.enum(['open', 'merged', 'closed']),
  author: z.string().max(200),
  head: z.string().max(250),
  base: z.string().max(250),
  headSha: z.string().regex(/^[0-9a-f]{40,64}$/),
  mergeSha: z
    .string()
    .regex(/^[0-9a-f]{40,64}$/)
    .nullable(),
  createdAtMs: z.number().int(),
  updatedAtMs: z.number().int(),
  version: z.number().int(),
})
const zBuildData = z.object({
  repository: z.string().max(100),
  number: z.number().int().positive(),
  sha: z.string().regex(/^[0-9a-f]{40,64}$/),
  branch: z.string().max(250),
  outcome: z.enum(['passed', 'broke']).optional(),
  startedAtMs: z.number().int(),
})
const zDeploymentData = z.object({
  deploymentId: z.string().max(100),
  service: z.string().max(100),
  release: z.string().max(100),
  environment: z.string().max(100),
  by: z.string().max(100).nullable().default(null),
})
/**
 * Takes one CDEvents message, about repositories and services of the sender's project alone; whom it names did it is a fact that it tells,
 * never who acts here. Kinds that nothing here rests on are accepted and passed over; the same message again changes nothing. A push
 * or a merge only
 * says that git is worth a look: what happened is read from git. Gives what became of it.
 */
export async function receiveCdEvent(
  ctx: ServiceContext,
  { sync, who }: { sync: RepositorySync; who: Who | null },
  raw: unknown,
): Promise<'taken' | 'passed over'> {
  const parsed = zCdEvent.safeParse(raw)
  if (!parsed.success) throw new Problem('invalid-input', { detail: `Not a CDEvents message: ${z.prettifyError(parsed.error)}` })
  const { context, customData } = parsed.data
  const [, , subject = '', predicate = ''] = context.type.split('.')
  const idempotencyKey = `${context.source}#${context.id}`
  const atMs = Date.parse(context.timestamp)
  if (subject === 'change') {
    const pr = expectData(zPullRequestData, customData)
    requireRepositoryOf(ctx.db, who, pr.repository)
    await sync.request(pr.repository, `pull request ${pr.number}`)
    seePullRequest(ctx, pr, `pull request ${pr.number} ${predicate}`)
  } else if (subject === 'repository' || subject === 'branch') {
    const { repository } = expectData(z.object({ repository: z.string().max(100) }), customData)
    requireRepositoryOf(ctx.db, who, repository)
    ctx.background.add(sync.request(repository, `push seen by ${context.source}`), `fetching ${repository}`)
  } else if (subject === 'build') {
    const data = expectData(zBuildData, customData)
    requireRepositoryOf(ctx.db, who, data.repository)
    receiveBuild(ctx, { data, predicate, atMs, idempotencyKey })
  } else if (subject === 'service' && predicate !== 'removed') {
    const data = expectData(zDeploymentData, customData)
    requireServiceOf(ctx.db, who, data.service)
    seeDeployment(ctx, { ...data, atMs, idempotencyKey })
  } else return 'passed over'
  return 'taken'
}
function expectData<T extends z.ZodType>(schema: T, data: unknown): z.infer<T> {
  const parsed = schema.safeParse(data)
  if (!parsed.success) throw new Problem('invalid-input', { detail: `customData: ${z.prettifyError(parsed.error)}` })
  return parsed.data
}
function receiveBuild(
  ctx: ServiceContext,
  input: { data: z.infer<typeof zBuildData>; predicate: string; atMs: number; idempotencyKey: string },
): void {
  const { repository, number, sha, branch, outcome, startedAtMs } = input.data
  requireRepository(ctx, repository)
  const common = {
    actor: 'source:build-service',
    atMs: input.atMs,
    subjects: [`build:${repository}/${number}`, `repository:${repository}`],
    idempotencyKey: input.idempotencyKey,
    source: `build:${repository}/${number}`,
  }
  ctx.journal.write((writer) => {
    if (input.predicate === 'started' || input.predicate === 'queued')
      writer.append({ ...common, kind: 'build-started', body: { repository, number, sha, branch } })
    else if (input.predicate === 'finished')
      writer.append({
        ...common,
        kind: 'build-finished',
        body: { repository, number, sha, branch, state: outcome ?? 'broke', startedAtMs },
      })
    writer.touch(itemsOfBuild(ctx, repository, sha, branch))
    if (input.predicate === 'finished') logFailingTests(ctx, writer, { repository, build: number })
  })
}
