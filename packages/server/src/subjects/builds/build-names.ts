import { sql } from '#platform/db/statements'
import type { ServiceContext } from '#platform/context'
import type { JournalWriter } from '#platform/journal/journal'
import { GET_NUMBER_OF_BUILD_NAME, GET_LAST_NAMED_NUMBER, HAS_BUILD } from './build-names.queries.js'

/** Builds that are called by a name get numbers from here on, where no build service counts. */
const NAMED_FROM = 1_000_000_000
const NUMBER = /^[1-9]\d{0,8}$/

/** How a build is called: by its service, and by the chain of events that it belongs to, where that is known. */
export interface Called {
  name: string | null
  chain?: string | null
}

/**
 * The number by which we know a build that its service calls so: a number below a thousand million is itself, any other name (`ci-1877`, a
 * date, a long id) gets one the first time that it is heard of. What came of the same chain of events is the
 * same build. To be called inside the write that needs it.
 */
export function numberOfBuild(ctx: ServiceContext, writer: JournalWriter, repository: string, { name, chain = null }: Called): number {
  const names = [
    ...(name === null ? [] : [{ name, isShown: true }]),
    ...(chain === null ? [] : [{ name: `chain ${chain}`, isShown: false }]),
  ]
  const numberOf = (known: string) => sql(ctx.db, GET_NUMBER_OF_BUILD_NAME).get<{ number: number }>({ repository, name: known })?.number
  const known = names.map((one) => numberOf(one.name)).find((number) => number !== undefined)
  const number =
    name !== null && NUMBER.test(name)
      ? Number(name)
      : (known ?? (sql(ctx.db, GET_LAST_NAMED_NUMBER).get<{ number: number | null }>({ repository })?.number ?? NAMED_FROM) + 1)
  for (const one of names) {
    if (one.name === String(number) || numberOf(one.name) !== undefined) continue
    writer.append({
      kind: 'build-named',
      actor: 'source:build-service',
      subjects: [`build:${repository}/${number}`],
      idempotencyKey: `build-name/${repository}/${one.name}`,
      body: { repository, number, ...one },
    })
  }
  return number
}

/** A build that something of is sent: how it is called, and by which sending it begins where nobody told of it. */
export interface SentOfBuild {
  repository: string
  build: string
  sha: string
  branch: string
  by: string
}

/** The number of a build that something of is sent; it begins by that if nobody told of it yet. */
export function ensureBuild(ctx: ServiceContext, { repository, build, sha, branch, by }: SentOfBuild): number {
  return ctx.journal.write((writer) => {
    const number = numberOfBuild(ctx, writer, repository, { name: build })
    const subject = `build:${repository}/${number}`
    if (!sql(ctx.db, HAS_BUILD).get({ repository, number }))
      writer.append({
        kind: 'build-started',
        actor: 'source:build-service',
        subjects: [subject, `repository:${repository}`],
        source: subject,
        idempotencyKey: `${by}/${repository}/${number}`,
        body: { repository, number, sha, branch },
      })
    return number
  })
}
