import { kindOf, ownAdditions, type CdEvent } from '@dystracer/core/incoming/cd-event'
import type { Who } from '@dystracer/core/people/who'
import { z } from 'zod'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { seePullRequest } from '#subjects/reviews/index'
import type { RepositorySync } from '#subjects/sync/index'
import { placeEvent } from './places.js'
import { GET_PULL_REQUEST_TOLD } from './places.queries.js'

const zSha = z.string().regex(/^[0-9a-f]{40,64}$/)
/** A pull request as a whole, where the sender's additions tell it; the repository is the one that the message is about. */
const zWholeChange = z.object({
  number: z.number().int().positive(),
  title: z.string().max(500),
  body: z.string().max(100_000),
  state: z.enum(['open', 'merged', 'closed']),
  author: z.string().max(200),
  head: z.string().max(250),
  base: z.string().max(250),
  headSha: zSha,
  mergeSha: zSha.nullable(),
  createdAtMs: z.number().int(),
  updatedAtMs: z.number().int(),
  version: z.number().int(),
})
/** How a change stands after what the open specification says happened to it. */
const STATE_AFTER: Record<string, 'open' | 'merged' | 'closed'> = {
  created: 'open',
  updated: 'open',
  reviewed: 'open',
  merged: 'merged',
  abandoned: 'closed',
}

interface Parts {
  sync: RepositorySync
  who: Who | null
}

/** A repository or a branch of it changed: git is looked at, and says what. */
export function tellRepository(ctx: ServiceContext, { sync, who }: Parts, event: CdEvent): null {
  const repository = placeEvent(ctx.db, who, event)
  ctx.background.add(sync.request(repository, `push seen by ${event.context.source}`), `fetching ${repository}`)
  return null
}

/**
 * A pull request changed. Where the sender's additions tell it whole it is taken so; else git is read, and what is known of it already is
 * brought to the state that the message says. Gives what could not be taken, in words.
 */
export async function tellChange(ctx: ServiceContext, { sync, who }: Parts, event: CdEvent): Promise<string | null> {
  const repository = placeEvent(ctx.db, who, event)
  const { predicate } = kindOf(event)
  const whole = zWholeChange.safeParse(event.customData)
  const number = whole.success ? whole.data.number : numberOf(event)
  await sync.request(repository, number === null ? `a change seen by ${event.context.source}` : `pull request ${number}`)
  if (whole.success) {
    seePullRequest(ctx, { ...whole.data, repository }, `pull request ${whole.data.number} ${predicate}`)
    return null
  }
  const known = number === null ? undefined : sql(ctx.db, GET_PULL_REQUEST_TOLD).get<KnownChange>({ repository, number })
  if (!known || number === null) return 'Git was read; of a pull request the message tells too little to know it by.'
  const state = STATE_AFTER[predicate]
  if (state === undefined || state === known.state) return null
  seePullRequest(
    ctx,
    {
      repository,
      number,
      title: known.title,
      body: known.body,
      state,
      author: known.author,
      head: known.head,
      base: known.base,
      headSha: known.head_sha,
      mergeSha: known.merge_sha,
      createdAtMs: known.created_at_ms,
      updatedAtMs: Date.parse(event.context.timestamp),
      version: known.version + 1,
    },
    `pull request ${number} ${predicate}`,
  )
  return null
}

interface KnownChange {
  title: string
  body: string
  state: string
  author: string
  head: string
  base: string
  head_sha: string
  merge_sha: string | null
  created_at_ms: number
  version: number
}

/** The number of a pull request: our addition, or the digits at the end of its name. */
function numberOf(event: CdEvent): number | null {
  const own = ownAdditions(event).number
  if (own !== undefined) return own
  const digits = /(?:^|\D)([1-9]\d{0,8})$/.exec(event.subject.id)?.[1]
  return digits === undefined ? null : Number(digits)
}
